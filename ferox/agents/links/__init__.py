"""Links: how Ferox drives an agent, one file for each kind."""
