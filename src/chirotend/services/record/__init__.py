"""Writing in, correcting, bringing and taking along the record."""
