"""The room where other programs are told what happens."""
