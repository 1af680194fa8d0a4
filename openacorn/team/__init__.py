"""The people who work here: accounts, signing in, tokens for programs, and what each did."""
