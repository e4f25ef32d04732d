"""Tables, dictionaries and passages to open formats."""
