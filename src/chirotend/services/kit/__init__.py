"""Her hands, her kit, the fitting bench, her own entries of the library, what she says of herself."""
