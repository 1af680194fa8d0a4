"""Where files are published: a folder, a server by SFTP, a branch of a git repository."""
