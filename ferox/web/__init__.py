"""The web application: a JSON interface, live updates, and the built screens."""
