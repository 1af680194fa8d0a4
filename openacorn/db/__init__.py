"""The ground of the data: connections and their one writer, migrations, change numbers, the folder, secrets, backups."""
