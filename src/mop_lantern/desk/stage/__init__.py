"""The space and its field: the view, its layers and tools."""
