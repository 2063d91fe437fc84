"""Plans: listed, previewed while they are typed, and run; and the arms of their runs."""
