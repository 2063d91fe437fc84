"""Benchmarks: each figure as a ratio to a bound measured in the same run."""
