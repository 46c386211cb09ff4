"""Two lefts: mirrored pairs on a mat with one good face, over random builds, by another hand: which way each part turns
is read off its outline alone."""
