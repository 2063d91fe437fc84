"""Attacks on Ferox: hostile input, servers and agents, each with what has to hold."""
