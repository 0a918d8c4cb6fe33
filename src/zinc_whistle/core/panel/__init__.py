"""The control panel: buttons, limits and stop as a state machine, checked in every state that it can reach."""
