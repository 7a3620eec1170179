"""Changes that are tried: begun, shown, decided."""
