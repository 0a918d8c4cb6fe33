"""The shelf of components: transistors, drivers of gates, diodes and what else a stage is built from."""
