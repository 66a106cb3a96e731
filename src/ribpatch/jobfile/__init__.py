"""The .ribpatch job file: archive, schema, migrations, recovery, lock."""
