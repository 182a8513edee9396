"""The recipes that come with the product, one a file."""
