"""Stored trials, played back to the agents of today: model and tools are held still."""
