"""The settings along one knob, what was run on them, and what that says of the knob's limit."""
