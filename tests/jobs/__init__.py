"""Twenty jobs that the whole program is held to: each built from nothing, taken out as files, and looked at."""
