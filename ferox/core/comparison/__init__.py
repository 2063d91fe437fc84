"""Whether B is better than A: differences over shared tasks, their intervals, and the words."""
