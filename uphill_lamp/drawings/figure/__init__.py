"""The presenter as a body in the room: meshes fitted to the measures, what hides what, and the light on every vertex."""
