"""The relay: every message between any client and a live server, passed on and recorded."""
