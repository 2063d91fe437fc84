"""Shrinking: the smallest task, offer and instructions with which a trial still fails."""
