"""Tool servers in Ferox's hands: mocks that answer by rules."""
