"""The keys that pages listen to, as the list of keys tells them. A test holds it against the scripts."""

from collections.abc import Sequence

KEYS: Sequence[tuple[str, Sequence[tuple[Sequence[str], str]]]] = (
    (
        "Everywhere",
        (
            (("/",), "find"),
            (("s",), "save"),
            (("u", "r"), "undo, redo"),
            (("Esc",), "leave a field; close what is open"),
            (("?",), "these keys"),
        ),
    ),
    (
        "Mix",
        (
            (("↑", "↓"), "pick a bottle in the cup"),
            (("+", "-"), "a drop more, a drop less"),
            (("0", "9"), "0 to 9: that many drops in all; type two or three digits for more"),
            (("←", "→"), "tilt the bait"),
            (("c",), "clear coat on or off"),
            (("n",), "to the next drop that helps; Enter adds it"),
        ),
    ),
    (
        "At the cup and at the bench",
        (
            (("space",), "the next drop is in; or on to the next step"),
            (("Page ↓", "→", "Enter"), "at the bench: the same, for a pedal"),
            (("Backspace",), "at the bench: one back"),
            (("5",), "at the bench: five back"),
        ),
    ),
    (
        "Plan",
        (
            (("[", "]"), "the layer earlier, later"),
            (("o",), "the layer on or off"),
            (("Delete",), "remove the layer"),
            (("a",), "add the layer that is chosen"),
            (("←", "→", "↑", "↓"), "on the picture: turn it; Enter says what is there"),
        ),
    ),
    (
        "Photos, the colour wheel, a schedule",
        (
            (("←", "→", "↑", "↓"), "move the ring or the colour; a block by a quarter of an hour"),
            (("Enter",), "pick what the ring is on"),
        ),
    ),
)
