"""What each station shows: fields, figures, picture and findings, in people's units. Between core and the screen."""
