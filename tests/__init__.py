import vellumcut  # noqa: F401  (first of all: it sets how many threads numpy may take)
