"""The demo scenario: the volunteers of a small planetarium in a converted water tower. Everything in it is invented."""
