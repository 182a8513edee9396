"""Dropping things: rigid bodies that fall onto a site and settle into heaps."""
