"""What Ferox keeps: runs, trials, events and results, in SQLite."""
