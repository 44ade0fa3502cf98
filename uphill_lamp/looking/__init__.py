"""Files of pictures and sounds looked at: decoding, faces, and the limited child that does both."""
