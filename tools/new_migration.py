"""Write a migration from what the models have and the newest version lacks.

Usage: `python tools/new_migration.py ID words`.
"""

import sys
import tempfile
from datetime import UTC, datetime
from pathlib import Path

from alembic import command

from chirotend.store.engine import alembic_config, migrate, open_engine

with tempfile.TemporaryDirectory() as folder:
    engine = open_engine(f"sqlite:///{folder}/x.db")
    migrate(engine, Path(folder), datetime.now(UTC))
    command.revision(alembic_config(engine), " ".join(sys.argv[2:]), autogenerate=True, rev_id=sys.argv[1])
