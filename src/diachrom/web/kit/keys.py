"""The keys that pages listen to, as the list of keys tells them. A test holds it against the scripts."""

from collections.abc import Sequence

from diachrom.words import say

KEYS: Sequence[tuple[str, Sequence[tuple[Sequence[str], str]]]] = (
    (
        say("Everywhere"),
        (
            (("/",), say("find on this page; pressed once more, anywhere")),
            (("s",), say("save")),
            (("u", "r"), say("undo, redo")),
            (("Esc",), say("leave a field; close what is open")),
            (("?",), say("these keys")),
        ),
    ),
    (
        say("Mix"),
        (
            (("↑", "↓"), say("pick a bottle in the cup")),
            (("+", "-"), say("a drop more, a drop less")),
            (("0", "9"), say("0 to 9: that many drops in all; type two or three digits for more")),
            (("←", "→"), say("tilt the bait")),
            (("c",), say("clear coat on or off")),
            (("n",), say("to the next drop that helps; Enter adds it")),
        ),
    ),
    (
        say("At the cup and at the bench"),
        (
            (("space",), say("the next drop is in; or on to the next step")),
            (("Page ↓", "→", "Enter"), say("at the bench: the same, for a pedal")),
            (("Backspace",), say("at the bench: one back")),
            (("5",), say("at the bench: five back")),
        ),
    ),
    (
        say("Plan"),
        (
            (("v", "b", "m", "p", "d"), say("turn, airbrush, mark, place, draw a stencil")),
            ((",", "."), say("what is placed: turned")),
            (("Page ↑", "Page ↓"), say("larger, smaller")),
            (("[", "]"), say("the layer earlier, later")),
            (("o",), say("the layer on or off")),
            (("Delete",), say("remove the layer")),
            (("a",), say("add the layer that is chosen")),
            (("←", "→", "↑", "↓"), say("on the picture: turn it; Enter says what is there")),
        ),
    ),
    (
        say("Photos, the colour wheel, a schedule"),
        (
            (("←", "→", "↑", "↓"), say("move the ring or the colour; a block by a quarter of an hour")),
            (("Enter",), say("pick what the ring is on")),
        ),
    ),
)
