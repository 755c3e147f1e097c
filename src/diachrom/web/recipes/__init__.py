from diachrom.web.kit.frame import RailEntry

RAIL_ENTRY = RailEntry(40, "recipes", "Recipes", "r")
