"""Results in formats that other programs read."""
