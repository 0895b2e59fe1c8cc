"""SVG files as text: compressed or not, in the encoding they say they are in."""

from __future__ import annotations

import re
import zlib

from perigram.core.errors import PictureError

_GZIP, _WBITS = b"\x1f\x8b", 31
_DECLARED = re.compile(rb"<\?xml[^>]*?\sencoding\s*=\s*[\"']([A-Za-z0-9._-]+)[\"']")
#: What drawing programs have written; other names are taken for UTF-8, which XML is in unless it says so.
_KNOWN = re.compile(
    r"(utf-?(8|16)|(us-)?ascii|iso-8859-\d+|windows-125\d|koi8-r|shift_jis|gb2312|big5)", re.I
)
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
    declared = _DECLARED.match(data.lstrip()[:200])
    name = declared[1].decode() if declared else "utf-8"
    said = next((codec for mark, codec in _MARKS.items() if data.startswith(mark)), None)
    try:
        return data.decode(said or (name if _KNOWN.fullmatch(name) else "utf-8"))
    except (UnicodeDecodeError, LookupError) as error:
        raise PictureError("This file is not an SVG drawing. SVG files work here.") from error
