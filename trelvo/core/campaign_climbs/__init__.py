"""All knobs of a campaign in the order of turning, and one knob's climb as drawn."""
