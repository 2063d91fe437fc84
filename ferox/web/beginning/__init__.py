"""A new workspace in a folder that has none yet."""
