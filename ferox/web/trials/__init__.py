"""The trial: its tracks, its values, its set-up and what its models were shown."""
