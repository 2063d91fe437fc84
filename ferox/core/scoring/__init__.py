"""Scoring: a pure function of a task's script and a trace."""

from ferox.core.scoring.score import score_trial

__all__ = ["score_trial"]
