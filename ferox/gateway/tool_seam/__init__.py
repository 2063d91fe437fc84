"""The tool seam: where Ferox stands between an agent and its tool servers."""
