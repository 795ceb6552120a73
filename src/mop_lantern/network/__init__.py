"""One-dimensional networks: lines of components between nodes."""
