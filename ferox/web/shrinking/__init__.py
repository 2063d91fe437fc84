"""Shrinking a failing trial: begun, watched, stopped, and kept as a task."""
