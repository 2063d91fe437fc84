"""The model seam: where Ferox stands between an agent and its models."""
