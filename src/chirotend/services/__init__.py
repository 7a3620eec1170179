"""One module for each thing a player does: read from the store, ask the core, save. Nothing here knows a request."""
