"""Plans and the kit: answering, solving, saving, comparing, printing."""
