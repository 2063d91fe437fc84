"""Sources: what answers in a tool server's place."""
