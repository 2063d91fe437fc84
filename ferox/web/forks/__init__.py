"""Forks of a trial: started, and what came of them."""
