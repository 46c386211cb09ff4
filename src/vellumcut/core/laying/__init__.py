"""Panels that came flat, laid on their wearer."""
