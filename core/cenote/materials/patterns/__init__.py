"""What material layers are drawn with, one a file."""
