from diachrom.web.kit.frame import RailEntry
from diachrom.words import say

RAIL_ENTRY = RailEntry(35, "test-cards", say("Cards"), "c", on_phone=False)
