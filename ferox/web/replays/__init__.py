"""Replays of runs and trials: begun, watched, stopped and read."""
