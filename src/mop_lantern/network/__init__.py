"""One-dimensional networks: runs of components between nodes."""
