"""The Agents place: agents, their probe, and conversations by hand."""
