"""Judgement: readings, margin notes, the trust list. Numbers and arrays in, plain records out."""

from mop_lantern.judge.facts import Facts, NetFacts, Note, OpeningFacts, lasting_notes, review_notes
from mop_lantern.judge.field_result import FieldResult
from mop_lantern.judge.network_result import NetworkResult
from mop_lantern.judge.path import Profile, profile_along, way_through
from mop_lantern.judge.reading import Measured, drifts, followed, measure, titles, why_none
from mop_lantern.judge.trust import Trust, network_trust, note_trust, trust_list, verdict_in_words

__all__ = [
    "Facts",
    "FieldResult",
    "Measured",
    "NetFacts",
    "NetworkResult",
    "Note",
    "OpeningFacts",
    "Profile",
    "Trust",
    "drifts",
    "followed",
    "lasting_notes",
    "measure",
    "network_trust",
    "note_trust",
    "profile_along",
    "review_notes",
    "titles",
    "trust_list",
    "verdict_in_words",
    "way_through",
    "why_none",
]
