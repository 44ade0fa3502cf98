"""What they see: the presenter and the room as the far side's picture shows them."""
