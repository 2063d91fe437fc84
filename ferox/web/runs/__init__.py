"""Runs and the board."""
