"""Curves that new machines begin with."""

EXAMPLES = {
    "length": (("0 L/s", "20 m"), ("5 L/s", "17 m"), ("10 L/s", "8 m")),
    "pressure": (("0 L/s", "400 Pa"), ("5 L/s", "340 Pa"), ("10 L/s", "160 Pa")),
}
"""Curves a new pump (head) and a new fan (total pressure) begin with; no real machine's."""
