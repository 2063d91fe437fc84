"""Ferox finds out how an agent, built with any framework, chooses and calls tools."""

__version__ = "0.1.0"
