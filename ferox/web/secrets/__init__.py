"""Secrets: which are named, which are set and from where; never their values."""
