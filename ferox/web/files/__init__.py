"""Files of the workspace as a screen edits them."""
