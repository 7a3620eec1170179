"""Bringing a diary: read in the background, matched and asked about, shown before anything is saved, all or nothing."""
