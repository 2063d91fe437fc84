"""Scoring: a pure function of a task's script and a trace."""

from ferox.core.scoring.score import score

__all__ = ["score"]
