"""Parts of rooms with what they give off: one file each."""
