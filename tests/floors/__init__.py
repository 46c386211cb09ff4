"""Floors, tapes and a camera by a third hand: what lies on a floor is drawn as it sends light back, lit, and seen by a
camera with a tone curve of its own. Nothing of the camera stand-in, and nothing of `tests.other_pictures`, is used."""
