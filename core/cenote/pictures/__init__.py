"""Small pictures of single items, cast by rays."""
