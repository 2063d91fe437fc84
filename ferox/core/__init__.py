"""The computation: matchers, matching, scoring, statistics. No input, no output."""
