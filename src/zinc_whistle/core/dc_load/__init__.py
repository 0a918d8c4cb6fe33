"""A load that is no motor: a solenoid, a pump or a lamp."""
