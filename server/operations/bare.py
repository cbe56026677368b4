"""A photograph without where it was taken, when, by whom and with what: the picture's own bytes stay as they are, and which way is up."""

import struct
import zlib
from collections.abc import Iterator

_SOI, _SOS, _APP1, _APP13, _COMMENT = b"\xff\xd8", 0xDA, 0xE1, 0xED, 0xFE
_PNG = b"\x89PNG\r\n\x1a\n"
_PNG_SAYS = {b"eXIf", b"tEXt", b"zTXt", b"iTXt", b"tIME"}
_WEBP_SAYS = {b"EXIF": 0x08, b"XMP ": 0x04}


def bare(content: bytes, kind: str, orientation: int) -> bytes:
    """A JPEG, PNG or WebP file with what it says besides the picture left out; `orientation` as Exif has it, kept where it is not the usual one.

    A file whose parts do not add up is left as it is: whoever opens pictures has said that it is one.
    """
    try:
        return {"JPEG": _jpeg, "PNG": _png, "WEBP": _webp}[kind](content, orientation)
    except (IndexError, struct.error):
        return content


def _jpeg(content: bytes, orientation: int) -> bytes:
    """ITU T.81, annex B: segments, each with a marker and a length, up to the scan."""
    out, at = [_SOI], 2
    if orientation != 1:
        said = b"Exif\0\0" + _turned(orientation)
        out.append(b"\xff\xe1" + struct.pack(">H", len(said) + 2) + said)
    while (marker := content[at + 1]) != _SOS:
        (length,) = struct.unpack(">H", content[at + 2 : at + 4])
        if marker not in (_APP1, _APP13, _COMMENT):
            out.append(content[at : at + 2 + length])
        at += 2 + length
    return b"".join([*out, content[at:]])


def _turned(orientation: int) -> bytes:
    """Exif that says which way is up, and nothing else (TIFF 6.0, tag 274)."""
    return b"MM\0\x2a" + struct.pack(">IHHHIHHI", 8, 1, 274, 3, 1, orientation, 0, 0)


def _png(content: bytes, orientation: int) -> bytes:
    """Portable Network Graphics, chapter 5: chunks of a length, a name, what they hold, a checksum."""

    def chunks() -> Iterator[bytes]:
        at, told = len(_PNG), list[bytes]()
        while at < len(content):
            (length,) = struct.unpack(">I", content[at : at + 4])
            name = content[at + 4 : at + 8]
            if name == b"IDAT" and orientation != 1 and not told:
                told.append(said := b"eXIf" + _turned(orientation))
                yield struct.pack(">I", len(said) - 4) + said + struct.pack(">I", zlib.crc32(said))
            if name not in _PNG_SAYS:
                yield content[at : at + 12 + length]
            at += 12 + length

    return _PNG + b"".join(chunks())


def _webp(content: bytes, orientation: int) -> bytes:
    """RIFF: chunks of a name, a length, what they hold, an even number of bytes."""
    out, at, turned = [], 12, b""
    while at < len(content):
        name, (length,) = content[at : at + 4], struct.unpack("<I", content[at + 4 : at + 8])
        chunk = bytearray(content[at : at + 8 + length + length % 2])
        if name == b"VP8X":
            chunk[8] &= ~sum(_WEBP_SAYS.values())
            # Only what has this chunk can have been turned.
            turned = _turned(orientation) if orientation != 1 else b""
            chunk[8] |= _WEBP_SAYS[b"EXIF"] if turned else 0
        if name not in _WEBP_SAYS:
            out.append(bytes(chunk))
        at += 8 + length + length % 2
    if turned:
        out.append(b"EXIF" + struct.pack("<I", len(turned)) + turned)
    body = b"WEBP" + b"".join(out)
    return b"RIFF" + struct.pack("<I", len(body)) + body
