"""``python -m vellumcut.cli``."""

from vellumcut.cli import main

main()
