"""What is refused: not an error of ours, but something that cannot be done as it was asked."""


class Refused(ValueError):
    """The message says why, and what to do, in words for people."""


class ImportRefused(Refused):
    """A file that cannot be taken in. The message says what is wrong with it and what to do."""
