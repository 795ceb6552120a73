"""The solver process: commands in and events out, one JSON object a line."""
