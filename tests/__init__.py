"""Tests: one file a concept, on behaviour."""
