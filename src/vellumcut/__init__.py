"""Vellumcut: from body to flat panels, to cut and bevelled foam, to armour that fits."""

__version__ = "0.1.0"
