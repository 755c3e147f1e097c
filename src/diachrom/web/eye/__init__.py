from diachrom.web.kit.frame import RailEntry

RAIL_ENTRY = RailEntry(80, "trainer", "Eye", "e", foot=True)
