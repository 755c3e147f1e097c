from diachrom.web.kit.frame import RailEntry

RAIL_ENTRY = RailEntry(50, "plan", "Plan", "p")
