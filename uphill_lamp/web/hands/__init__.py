"""The hands-on view: the bench from above, and things held up."""
