"""The Tasks place: suites, their pictures, and scoring again."""
