"""Where the workshop is to be found: the first free port of these."""

FIRST_PORT, LAST_PORT = 8765, 8865
