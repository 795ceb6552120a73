"""Models as others send them, made by script, clean and spoilt on purpose, with the outcome expected."""
