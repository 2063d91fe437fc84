"""Commands that Ferox starts, found and ended with all that they start."""
