from diachrom.web.kit.frame import RailEntry
from diachrom.words import say

RAIL_ENTRY = RailEntry(60, "orders", say("Orders"), "o", on_phone=False)
