from diachrom.web.kit.frame import RailEntry
from diachrom.words import say

RAIL_ENTRY = RailEntry(67, "finish", say("Finish"), "i", on_phone=False)
