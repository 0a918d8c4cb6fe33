"""The real interface, driven in the system's Chromium."""
