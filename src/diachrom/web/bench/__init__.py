from diachrom.web.kit.frame import RailEntry

RAIL_ENTRY = RailEntry(65, "bench", "Bench", "b")
