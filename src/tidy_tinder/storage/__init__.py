"""One SQLite file: tables, engine, migrations and the queries that read long lists."""
