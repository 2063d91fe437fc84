"""Recordings: messages captured between a client and a live server, read, edited and written."""
