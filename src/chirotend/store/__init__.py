"""SQLAlchemy models, queries bound to one player, migrations and backup. Models hold columns, no rules."""
