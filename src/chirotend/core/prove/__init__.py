"""How well early signs speak, measured on invented players: what they say, what simpler rules and an oracle would."""
