"""Servers that a person opens, looks at and calls."""
