"""Stand-in models: simulated, seeded, and labelled as such."""
