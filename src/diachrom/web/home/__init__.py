from diachrom.web.kit.frame import RailEntry
from diachrom.words import say

RAIL_ENTRY = RailEntry(5, "home", say("Today"), "d", on_phone=False)
