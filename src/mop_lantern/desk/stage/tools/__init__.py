"""Ways the pointer works on the stage: one file a tool."""
