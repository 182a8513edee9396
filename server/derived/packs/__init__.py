"""Derived things in the forms that pages take them: each a target of its own, so that a change of the form changes its key."""
