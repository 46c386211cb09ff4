"""How lines inside a panel are dashed in every file that leaves, and known by when it comes back."""

DASHES = {
    "fold": "8 2 1.5 2",
    "score": "3 1.5",
    "trim edge": "1.5 1.5",
    "layer cut": "12 1",
    "paint line": "4 1 1 1 1 1",
    "mark": "0.5 2",
    "cut rim": "2 1",
    "kerf": "5 1.5",
}
"""How lines inside a panel are dashed, mm: a fold is long and dot, a score short, a trim's edge fine, a mark dotted."""
