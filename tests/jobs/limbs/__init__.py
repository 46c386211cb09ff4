"""Jobs: limbs, one file each."""
