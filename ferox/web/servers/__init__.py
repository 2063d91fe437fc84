"""The Servers place: tool servers, calls by hand, recordings and relays."""
