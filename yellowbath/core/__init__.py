"""The rules and the arithmetic. Knows no web, no database and no clock."""
