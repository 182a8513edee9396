"""Materials: seamless tiles made of patterns and noise, at real-world size. One file each; see :mod:`.base`."""
