"""The manual: pages written by hand, and what every kind says of itself, as one document with anchors."""

from mop_lantern.manual.pages import anchor_of, anchors, manual_html, trust_anchor
from mop_lantern.manual.search import answers

__all__ = ["anchor_of", "anchors", "answers", "manual_html", "trust_anchor"]
