"""Motor, bridge, supply and load in time: exact between events."""
