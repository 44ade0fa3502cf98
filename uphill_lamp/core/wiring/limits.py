"""What connections can carry: lengths, speeds, currents.

Lengths are those of passive cables: USB 2.0 5 m and USB 3 about 3 m (USB-IF guidance), HDMI some 10 m at 1080p. A bus gives a device
about two thirds of its signalling rate. Currents: 500 mA a port of USB 2.0, 900 mA of USB 3, 1500 mA of USB-C (USB 2.0, 3.2 and
Type-C specifications); a phone's port gives little, 100 mA is a working value.
"""

from __future__ import annotations

LONGEST_M = {"usb2": 5.0, "usb3": 3.0, "hdmi": 10.0, "xlr": 50.0}
SPEED_MBIT_S = {"usb2": 480.0, "usb3": 5000.0}
USABLE = 0.66
PORT_MA = {
    ("usb_a", "usb2"): 500.0,
    ("usb_a", "usb3"): 900.0,
    ("usb_c", "usb2"): 500.0,
    ("usb_c", "usb3"): 1500.0,
    ("phone_port", "usb2"): 100.0,
}
BITS_A_PIXEL = 16.0  # 4:2:2, the usual way uncompressed pictures go over USB
COMPRESSED_MBIT_S = 80.0  # a compressed 1080p picture, generously
OLD_YEARS = 10.0  # a computer older than this is taken to have USB 2.0 at its A ports
STRIP_W = 2300.0  # 10 A at 230 V
STRIP_WAYS = 6


def uncompressed_mbit_s(width_px: int, height_px: int, fps: float) -> float:
    """Data rate of an uncompressed picture [Mbit/s]."""
    return width_px * height_px * fps * BITS_A_PIXEL / 1e6


def usable_mbit_s(speed: str) -> float:
    """What a bus carries for one device [Mbit/s]."""
    return SPEED_MBIT_S[speed] * USABLE
