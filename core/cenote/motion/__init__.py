"""Moving pictures: what changes from one picture of a shot to the next."""
