"""Anything of the workspace, found by its name."""
