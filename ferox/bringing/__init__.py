"""Traces brought in from where Ferox was not."""
