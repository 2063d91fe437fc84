"""The place Compare: two runs, or two agents, over the tasks that both have."""
