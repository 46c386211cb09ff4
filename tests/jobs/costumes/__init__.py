"""Jobs: costumes, one file each."""
