"""A diary that a player kept her own way: read, its columns matched, its words and spellings understood."""
