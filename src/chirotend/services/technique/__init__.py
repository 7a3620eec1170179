"""F Technique: probes, the bench they are chosen on, the grip book."""
