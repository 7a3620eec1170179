"""Knowledge as data: TOML files, validated when they are loaded. See docs/library.md for the fields."""
