"""One file a group of figures."""
