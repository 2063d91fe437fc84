"""Results as pages that stand by themselves: no script, nothing loaded from anywhere."""
