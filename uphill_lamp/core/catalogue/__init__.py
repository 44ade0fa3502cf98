"""Kinds of things that can be owned or bought, by generic names: what they are, what they need, what they typically cost."""
