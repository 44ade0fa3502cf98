"""The thing in hand in the words of a tape measure: document values shown and entered as a person measures them."""

from uphill_lamp.core.tape.fields import Entry, entered, fields_of, name_of, said_value, words_of

__all__ = ["Entry", "entered", "fields_of", "name_of", "said_value", "words_of"]
