"""The demo scenario: an opera-pit bassoonist who doubles on contrabassoon. All of it is invented."""
