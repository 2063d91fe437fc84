"""Connections to live servers, over every transport of the protocol."""
