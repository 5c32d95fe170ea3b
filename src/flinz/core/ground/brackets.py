"""Brackets in text of both ways: which way a pair runs (Unicode Standard Annex 9, rule N0)."""

import unicodedata
from functools import cache
from typing import TypedDict

# So many may be open at once (BD16).
MOST_OPEN = 63
# As rule N0 counts: numbers run as words to the left do.
STRONG = {"L": "L", "R": "R", "EN": "R", "AN": "R"}
# Two ways to write the same bracket.
SAME = str.maketrans("\u2329\u232a", "\u3008\u3009")


class Character(TypedDict):
    """A character, how deep it is embedded, and its class so far and at first."""

    ch: str
    level: int
    type: str
    orig: str


def resolve_brackets(run: list[Character], before: str) -> None:
    """Give the brackets of a run of one level their way, in place; its weak classes are resolved.

    before: the way of what precedes the run. A pair with something of the text's own way in it goes
    that way; one with only the other way in it goes along where what precedes it does, too.
    """
    own = "LR"[run[0]["level"] % 2]
    other = "RL"[run[0]["level"] % 2]
    for opening, closing in _pairs(run):
        inside = {STRONG.get(each["type"]) for each in run[opening + 1 : closing]}
        if own in inside:
            way = own
        elif other in inside:
            earlier = (STRONG.get(each["type"]) for each in reversed(run[:opening]))
            way = next((each for each in earlier if each), before)
        else:
            continue
        _turn(run, opening, way)
        _turn(run, closing, way)


def _turn(run: list[Character], at: int, way: str) -> None:
    run[at]["type"] = way
    # Accents go with what they stand on.
    for each in run[at + 1 :]:
        if each["orig"] != "NSM":
            break
        each["type"] = way


def _pairs(run: list[Character]) -> list[tuple[int, int]]:
    """Where brackets open and close that belong together, by where they open."""
    found, still_open = [], list[tuple[str, int]]()
    for at, each in enumerate(run):
        if each["type"] != "ON":
            continue
        bracket = each["ch"].translate(SAME)
        closes = _closes().get(bracket)
        if closes is not None:
            if len(still_open) == MOST_OPEN:
                break
            still_open.append((closes, at))
        for depth in reversed(range(len(still_open))):
            if still_open[depth][0] == bracket:
                found.append((still_open[depth][1], at))
                # What was opened within it and never closed is no pair.
                del still_open[depth:]
                break
    return sorted(found)


@cache
def _closes() -> dict[str, str]:
    """What closes each bracket: the character that follows it, or the one after that."""
    found = {}
    for code in range(0x10000):
        if _is_bracket(chr(code), "Ps"):
            follow = (chr(code + 1), chr(code + 2))
            closes = next((each for each in follow if _is_bracket(each, "Pe")), None)
            if closes:
                found[chr(code)] = closes
    return found


def _is_bracket(character: str, category: str) -> bool:
    return (
        unicodedata.category(character) == category
        and unicodedata.bidirectional(character) == "ON"
        and unicodedata.mirrored(character) == 1
    )
