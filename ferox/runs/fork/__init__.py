"""Forks: trials that go on from a point of another, with one thing changed or none."""
