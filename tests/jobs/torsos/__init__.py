"""Jobs: torsos, one file each."""
