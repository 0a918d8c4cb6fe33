"""What looks across stations: ranking, maps, searches, what-ifs."""
