"""The one door for what comes from outside: texts, values and patterns, each with its limits."""
