"""The invented scenario: data files and the loader that puts them into a new database."""
