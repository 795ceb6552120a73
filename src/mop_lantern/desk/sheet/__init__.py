"""The case as sentences with values to edit."""
