"""One command a file."""
