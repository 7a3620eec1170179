"""Runs the migrations on the engine the application opened, all of them in one transaction."""

from alembic import context

from chirotend.store.models import Base

engine = context.config.attributes["engine"]
with engine.begin() as connection:
    # SQLite can hold changes of tables in a transaction, once the driver is told to begin one
    context.configure(
        connection=connection, target_metadata=Base.metadata, render_as_batch=True, transactional_ddl=True
    )
    with context.begin_transaction():
        context.run_migrations()
        if connection.dialect.name == "sqlite" and (
            lost := connection.exec_driver_sql("PRAGMA foreign_key_check").all()
        ):
            raise RuntimeError(f"a migration left rows without their parent: {lost[0][0]}")
