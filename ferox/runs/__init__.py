"""Runs: agents × tasks × repeats, carried out by a worker and kept."""
