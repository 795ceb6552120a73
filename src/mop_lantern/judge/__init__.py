"""Judgement: readings, margin notes, the trust list. Numbers and arrays in, plain records out."""

from mop_lantern.judge.answer import Answer
from mop_lantern.judge.facts import Facts, Note, OpeningFacts, review_notes
from mop_lantern.judge.reading import Measured, measure
from mop_lantern.judge.trust import Trust, trust_list

__all__ = ["Answer", "Facts", "Measured", "Note", "OpeningFacts", "Trust", "measure", "review_notes", "trust_list"]
