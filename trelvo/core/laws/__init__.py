"""Laws and limits of the things themselves."""
