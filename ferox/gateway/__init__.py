"""The gateway: the two seams at which Ferox sees an agent's tool calls and model requests."""
