from diachrom.web.kit.frame import RailEntry
from diachrom.words import say

RAIL_ENTRY = RailEntry(30, "match", say("Match"), "t", on_phone=False)
