from diachrom.web.kit.frame import RailEntry

RAIL_ENTRY = RailEntry(35, "test-cards", "Cards", "c", on_phone=False)
