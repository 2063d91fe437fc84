"""Agents under test, and the links by which Ferox drives them."""
