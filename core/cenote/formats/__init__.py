"""Open formats in and out, and the binary packs that arrays travel in."""
