from diachrom.web.kit.frame import RailEntry
from diachrom.words import say

RAIL_ENTRY = RailEntry(70, "log", say("Log"), "l", on_phone=False)
