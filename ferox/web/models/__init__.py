"""Models: listed with who thinks with them, made, changed, and looked at."""
