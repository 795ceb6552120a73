"""The network: its schematic, figures, pages of its own."""
