"""Where light comes from: sun and moon, and the sky that they make."""
