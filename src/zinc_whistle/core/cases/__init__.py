"""What happens: all specs solved together for named cases and every corner."""
