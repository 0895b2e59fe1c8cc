"""SVG files as text: compressed or not, in the encoding they say they are in."""

from __future__ import annotations

import re
import zlib
from contextlib import suppress

from perigram.core.errors import PictureError

_GZIP, _WBITS = b"\x1f\x8b", 31
_DECLARED = re.compile(rb"<\?xml[^>]*?\sencoding\s*=\s*[\"']([A-Za-z0-9._-]+)[\"']")
#: What drawing programs have written, where it is not UTF-8.
_KNOWN = re.compile(r"(iso-8859-\d+|windows-125\d|koi8-r|shift_jis|gb2312|big5)", re.I)
_MARKS = {b"\xef\xbb\xbf": "utf-8-sig", b"\xff\xfe": "utf-16", b"\xfe\xff": "utf-16"}


def svg_text(data: bytes, most: int) -> str:
    """The text of an SVG file (XML 1.0, appendix F; gzip as SVG 2, section 1.7, has it).

    Args:
        most: of what is compressed no more bytes than that, and one, are unpacked.

    Raises:
        PictureError: where it is no text.
    """
    if data.startswith(_GZIP):
        try:
            data = zlib.decompressobj(wbits=_WBITS).decompress(data, most + 1)
        except zlib.error as error:
            raise PictureError("This compressed drawing is damaged. Save it again as plain SVG.") from error
    codecs = [next((codec for mark, codec in _MARKS.items() if data.startswith(mark)), "utf-8")]
    declared = _DECLARED.match(data.lstrip()[:200])
    if declared and _KNOWN.fullmatch(name := declared[1].decode()):
        # Second: what is in another encoding is hardly ever UTF-8 by chance, but often enough says it is not.
        codecs.append(name)
    for codec in codecs:
        with suppress(UnicodeDecodeError, LookupError):
            return data.decode(codec)
    raise PictureError("This file is not an SVG drawing. SVG files work here.")
