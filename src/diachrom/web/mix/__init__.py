from diachrom.web.kit.frame import RailEntry

RAIL_ENTRY = RailEntry(20, "mix", "Mix", "m")
