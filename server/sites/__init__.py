"""Sites, their documents and the history of their edits."""
