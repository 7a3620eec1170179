"""Did the change help? One player, days without and days with it."""
