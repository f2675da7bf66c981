#!/usr/bin/env python3
"""Draws the demo artwork of the made-up moth survey "Quarry Moth Watch": a tote bag, a handbill, a trail card,
a badge and a painting.

Usage: make_demo.py OUT_DIR     (only Python's standard library; same bytes every time)

The tote: three spot inks on a black bag. The handbill: two inks for a duplicator. On purpose both also
hold what goes wrong in the trade; each fault is named beside the line that draws it. The trail card comes
twice: as four inks, and as the eleven that three people's files brought together.
"""
import hashlib
import json
import math
import os
import struct
import sys
import zipfile
import zlib

MM = 72.0 / 25.4
HERE = os.path.dirname(os.path.abspath(__file__))
FONT = os.path.join(HERE, "..", "data", "fonts", "BichromSans-SemiBold.otf")


class Font:
    """Just enough of OpenType to set Latin text: character map and widths."""

    def __init__(self, path):
        with open(path, "rb") as handle:
            self.data = handle.read()
        count = struct.unpack(">H", self.data[4:6])[0]
        self.tables = {}
        for i in range(count):
            tag, _, offset, length = struct.unpack(">4sIII", self.data[12 + 16 * i:28 + 16 * i])
            self.tables[tag.decode()] = self.data[offset:offset + length]
        self.units = struct.unpack(">H", self.tables["head"][18:20])[0]
        self.wide = struct.unpack(">H", self.tables["hhea"][34:36])[0]
        self.map = self._read_map()

    def _read_map(self):
        cmap = self.tables["cmap"]
        offset = struct.unpack(">I", cmap[8:12])[0]
        result = {}
        for k in range(struct.unpack(">I", cmap[offset + 12:offset + 16])[0]):
            start, end, glyph = struct.unpack(">III", cmap[offset + 16 + 12 * k:offset + 28 + 12 * k])
            for code in range(start, min(end, 0x2FF) + 1):
                result[code] = glyph + code - start
        return result

    def width(self, glyph):
        at = 4 * min(glyph, self.wide - 1)
        return struct.unpack(">H", self.tables["hmtx"][at:at + 2])[0] * 1000.0 / self.units


class Pdf:
    def __init__(self):
        self.objects = []

    def add(self, body):
        self.objects.append(body if isinstance(body, bytes) else body.encode("latin-1"))
        return len(self.objects)

    def stream(self, head, data, compress=True):
        if compress:
            data = zlib.compress(data, 9)
            head += " /Filter /FlateDecode"
        return self.add(f"<< {head} /Length {len(data)} >>\nstream\n".encode("latin-1") + data + b"\nendstream")

    def write(self, path, root):
        out = bytearray(b"%PDF-1.6\n%\xe2\xe3\xcf\xd3\n")
        places = []
        for number, body in enumerate(self.objects, 1):
            places.append(len(out))
            out += f"{number} 0 obj\n".encode() + body + b"\nendobj\n"
        start = len(out)
        out += f"xref\n0 {len(places) + 1}\n0000000000 65535 f \n".encode()
        for place in places:
            out += f"{place:010d} 00000 n \n".encode()
        out += f"trailer\n<< /Size {len(places) + 1} /Root {root} 0 R >>\nstartxref\n{start}\n%%EOF\n".encode()
        with open(path, "wb") as handle:
            handle.write(out)


def number(value):
    return f"{value:.4f}".rstrip("0").rstrip(".")


class Page:
    """Drawing operators in millimetres, y up, origin at the page's lower left."""

    def __init__(self, font):
        self.ops = []
        self.font = font
        self.used = set()

    def op(self, *words):
        self.ops.append(" ".join(w if isinstance(w, str) else number(w) for w in words))

    def path(self, text):
        """Writes an SVG-like path of absolute M, L, C and Z in millimetres."""
        words = text.replace(",", " ").split()
        i = 0
        while i < len(words):
            command = words[i]
            take = {"M": 2, "L": 2, "C": 6, "Z": 0}[command]
            values = [float(w) * MM for w in words[i + 1:i + 1 + take]]
            self.op(*values, {"M": "m", "L": "l", "C": "c", "Z": "h"}[command])
            i += 1 + take

    def circle(self, x, y, r):
        k = 0.5522847498 * r
        self.path(f"M {x + r} {y} C {x + r} {y + k} {x + k} {y + r} {x} {y + r} "
                  f"C {x - k} {y + r} {x - r} {y + k} {x - r} {y} "
                  f"C {x - r} {y - k} {x - k} {y - r} {x} {y - r} "
                  f"C {x + k} {y - r} {x + r} {y - k} {x + r} {y} Z")

    def ink(self, name, tint, stroke=False):
        self.op(f"/{name}", "CS" if stroke else "cs")
        self.op(tint, "SCN" if stroke else "scn")

    def text(self, words, x, y, size, spacing=0.0, centred=True):
        glyphs = [self.font.map[ord(c)] for c in words]
        self.used.update(glyphs)
        if centred:
            wide = sum(self.font.width(g) for g in glyphs) * size / 1000 + spacing * (len(glyphs) - 1)
            x -= wide / MM / 2
        code = "".join(f"{g:04X}" for g in glyphs)
        self.op("BT", "/F1", size, "Tf", spacing, "Tc", x * MM, y * MM, "Td", f"<{code}>", "Tj", "ET")


def moth(page, x, y, s):
    """The moth; (x, y) is the top of its body, s millimetres a unit."""
    def at(text, flip):
        words = []
        odd = False
        for w in text.split():
            if w in "MLCZ":
                words.append(w)
                odd = False
            else:
                value = float(w)
                words.append(number(y - value * s if odd else x + (-value if flip else value) * s))
                odd = not odd
        return " ".join(words)

    upper = "M 0 22 C 60 -88 190 -88 215 -48 C 190 42 110 82 20 82 Z"
    lower = "M 10 78 C 90 78 120 122 100 152 C 80 202 110 252 84 288 C 60 232 30 182 8 132 Z"
    edge = "M 0 22 C 60 -88 190 -88 215 -48"
    for flip in (False, True):
        page.ink("LunaGreen", 1)
        page.path(at(upper, flip))
        page.op("f")
        page.ink("LunaGreen", 0.6)
        page.path(at(lower, flip))
        page.op("f")
    # Veins: rust printed over the green, which stays whole beneath.
    page.op("q /Over gs")
    page.ink("WingRust", 0.35, stroke=True)
    page.op(0.7 * MM, "w 1 J")
    for flip in (False, True):
        for vein in ("M 8 30 C 60 0 120 -30 176 -58", "M 10 40 C 70 24 130 6 196 -22", "M 14 52 C 70 50 130 42 178 14",
                     "M 16 90 C 50 130 70 170 82 250"):
            page.path(at(vein, flip))
            page.op("S")
    page.op("Q")
    page.ink("WingRust", 1, stroke=True)
    page.op(7 * s * MM, "w 1 J")
    for flip in (False, True):
        page.path(at(edge, flip))
        page.op("S")
        sign = -1 if flip else 1
        for cx, cy, r in ((98, -4, 17), (62, 132, 10)):
            page.ink("LampYellow", 1)
            page.circle(x + sign * cx * s, y - cy * s, r * s)
            page.op("f")
            page.ink("WingRust", 1)
            page.circle(x + sign * cx * s, y - cy * s, r * 0.58 * s)
            page.op("f")
            page.ink("LampYellow", 0.15)
            page.circle(x + sign * (cx + r * 0.22) * s, y - (cy - r * 0.2) * s, r * 0.18 * s)
            page.op("f")
    page.ink("LampYellow", 0.2)
    page.path(at("M 0 0 C 16 22 14 122 0 154 C -14 122 -16 22 0 0 Z", False))
    page.op("f")
    page.ink("WingRust", 1, stroke=True)
    page.op(4 * s * MM, "w 1 J")
    for flip in (False, True):
        page.path(at("M 4 2 C 20 -28 44 -34 56 -30", flip))
        page.op("S")


def embed_font(pdf, font, used):
    """The glyphs' font as a composite font. Gives its object."""
    glyphs = sorted(used)
    widths = " ".join(f"{g} [{number(font.width(g))}]" for g in glyphs)
    file = pdf.stream("/Subtype /OpenType", font.data)
    box = struct.unpack(">hhhh", font.tables["head"][36:44])
    box = " ".join(number(v * 1000 / font.units) for v in box)
    descriptor = pdf.add(f"<< /Type /FontDescriptor /FontName /MOTHAA+BichromSans-SemiBold /Flags 4 /FontBBox [{box}] "
                         f"/ItalicAngle 0 /Ascent 969 /Descent -242 /CapHeight 727 /StemV 110 /FontFile3 {file} 0 R >>")
    cid = pdf.add(f"<< /Type /Font /Subtype /CIDFontType0 /BaseFont /MOTHAA+BichromSans-SemiBold /CIDSystemInfo "
                  f"<< /Registry (Bichrom) /Ordering (Identity) /Supplement 0 >> /FontDescriptor {descriptor} 0 R "
                  f"/DW 600 /W [{widths}] >>")
    return pdf.add(f"<< /Type /Font /Subtype /Type0 /BaseFont /MOTHAA+BichromSans-SemiBold-Identity-H "
                    f"/Encoding /Identity-H /DescendantFonts [{cid} 0 R] >>")


def spot(pdf, name, c, m, y, k):
    """A Separation of the ink with its stand-in colour. Gives its object."""
    function = f"<< /FunctionType 2 /Domain [0 1] /C0 [0 0 0 0] /C1 [{c} {m} {y} {k}] /N 1 >>"
    return pdf.add(f"[/Separation /{name.replace(' ', '#20')} /DeviceCMYK {function}]")


def tote(out):
    pdf = Pdf()
    font = Font(FONT)
    page = Page(font)
    wide, high, edge = 320.0, 360.0, 10.0

    # Lamp light behind the moth, fading to nothing.
    page.op("q", 20 * MM, 70 * MM, 280 * MM, 275 * MM, "re W n /Glow sh Q")
    moth(page, 160, 250, 0.55)
    # The lantern hangs on a wire of 0.05 mm: too thin for any mesh.
    page.ink("WingRust", 1, stroke=True)
    page.op(0.05 * MM, "w 0 J")
    page.path("M 160 340 L 160 262")
    page.op("S")
    page.ink("LampYellow", 1)
    page.text("QUARRY MOTH WATCH", 160, 62, 58, 3)
    page.ink("LampYellow", 0.5)
    page.text("night 41 · lamps on at dusk", 160, 46, 20)
    page.ink("LunaGreen", 1)
    page.text("count what comes to the light, write it down, let it go", 160, 30, 6.5)
    # A row of tints, as volunteers' tally boxes.
    for i in range(10):
        page.ink("LunaGreen", (i + 1) / 10)
        page.op((103.5 + i * 11.5) * MM, 18 * MM, 9.5 * MM, 6 * MM, "re f")
    # What a helper left behind: a note in process black, on a job of three spots.
    page.op("0 0 0 1 k")
    page.text("tote v3", 300, 14, 8)

    type0 = embed_font(pdf, font, page.used)
    green = spot(pdf, "Luna Green", 0.5, 0, 0.55, 0.05)
    rust = spot(pdf, "Wing Rust", 0.1, 0.75, 0.9, 0.1)
    yellow = spot(pdf, "Lamp Yellow", 0, 0.22, 0.8, 0)
    glow = pdf.add(f"<< /ShadingType 3 /ColorSpace {yellow} 0 R /Coords [{number(160 * MM)} {number(228 * MM)} 0 "
                   f"{number(160 * MM)} {number(228 * MM)} {number(112 * MM)}] /Extend [false false] "
                   f"/Function << /FunctionType 2 /Domain [0 1] /C0 [0.5] /C1 [0] /N 1 >> >>")
    contents = pdf.stream("", "\n".join(page.ops).encode("latin-1"))
    pages = len(pdf.objects) + 2
    size = f"0 0 {number(wide * MM)} {number(high * MM)}"
    trim = f"{number(edge * MM)} {number(edge * MM)} {number((wide - edge) * MM)} {number((high - edge) * MM)}"
    one = pdf.add(f"<< /Type /Page /Parent {pages} 0 R /MediaBox [{size}] /TrimBox [{trim}] /Contents {contents} 0 R "
                  f"/Resources << /Font << /F1 {type0} 0 R >> /Shading << /Glow {glow} 0 R >> /ColorSpace "
                  f"<< /LunaGreen {green} 0 R /WingRust {rust} 0 R /LampYellow {yellow} 0 R >> "
                  f"/ExtGState << /Over << /OP true /op true /OPM 1 >> >> >> >>")
    pdf.add(f"<< /Type /Pages /Kids [{one} 0 R] /Count 1 >>")
    root = pdf.add(f"<< /Type /Catalog /Pages {pages} 0 R >>")
    pdf.write(out, root)


def blurred_moth(side):
    """A small grey-brown picture of a moth, as scanned from an old print: rows of red, green, blue."""
    rows = bytearray()
    for j in range(side):
        for i in range(side):
            x, y = abs(2 * (i + 0.5) / side - 1), 2 * (j + 0.5) / side - 1
            wing = max(0.0, 1 - ((x - 0.45) / 0.5) ** 2 - ((y + 0.1 + 0.3 * x) / 0.45) ** 2)
            body = max(0.0, 1 - (x / 0.09) ** 2 - (y / 0.55) ** 2)
            light = 235 - 120 * min(1, 2 * wing) - 80 * min(1, 2 * body) + 10 * ((i * 7 + j * 13) % 5 - 2)
            rows += bytes(max(0, min(255, int(light * f))) for f in (1, 0.93, 0.82))
    return bytes(rows)


def handbill(out):
    """Two A5 pages for a duplicator with two inks. Full of faults, each of which the shop rules find."""
    pdf = Pdf()
    font = Font(FONT)
    wide, high = 148.0, 210.0
    front = Page(font)
    # A band of ink that ends where the paper is cut: no bleed.
    front.ink("LunaGreen", 1)
    front.op(0, 0, wide * MM, 46 * MM, "re f")
    moth(front, 74, 150, 0.24)
    front.ink("LunaGreen", 1)
    front.text("LAMPS ON AT DUSK", 74, 182, 34, 1)
    # The same ink by another name: one letter's case makes a third plate.
    front.ink("SmallBlue", 1)
    front.text("Quarry Moth Watch invites you to night 42", 74, 172, 12)
    # Text built of four inks.
    front.op("0.6 0.5 0.5 1 k")
    front.text("Bring a lantern, a notebook and somebody who can keep still.", 74, 60, 8)
    # White that is set to overprint: on screen it is there, in print it vanishes.
    front.op("q /Over gs 0 0 0 0 k")
    front.text("Saturday, ten at night, upper quarry gate", 74, 28, 14)
    front.op("Q q 0 0 0 0 k")
    front.text("free of charge, moths permitting", 74, 17, 5)
    front.op("Q")
    # A star somebody drew in RGB, and a picture of 60 pixels.
    front.op("0.9 0.3 0.1 rg")
    front.path("M 132 200 L 134 194 L 140 194 L 135 190 L 137 184 L 132 188 L 127 184 L 129 190 L 124 194 L 130 194 Z")
    front.op("f")
    front.op("q", 30 * MM, "0 0", 30 * MM, 12 * MM, 78 * MM, "cm /Scan Do Q")

    back = Page(font)
    back.ink("LunaGreen", 1)
    back.text("What you may see", 74, 188, 26)
    for i, line in enumerate(("the pale lantern moth, on the wing from May",
                              "the rust-veined quarry moth, two broods a year",
                              "the night porter, which sits still and is overlooked")):
        back.text(line, 74, 168 - 12 * i, 13)
    # A hairline, a patch of the registration colour, something lost beside the page.
    back.ink("WingRust", 1, stroke=True)
    back.op("0.1 w")
    back.path("M 20 120 L 128 120")
    back.op("S")
    back.ink("All", 1)
    back.op(4 * MM, 4 * MM, 6 * MM, 6 * MM, "re f")
    back.ink("WingRust", 0.02)
    back.op(20 * MM, 60 * MM, 108 * MM, 40 * MM, "re f")
    back.op("/OC /Other BDC")
    back.ink("WingRust", 1)
    back.text("old text: night 41 is cancelled", 74, 78, 16)
    back.op("EMC")

    type0 = embed_font(pdf, font, front.used | back.used)
    blue = spot(pdf, "Dusk Blue", 0.85, 0.55, 0.1, 0.2)
    small = spot(pdf, "Dusk blue", 0.85, 0.55, 0.1, 0.2)
    orange = spot(pdf, "Lantern Orange", 0, 0.5, 0.9, 0)
    every = pdf.add("[/Separation /All /DeviceCMYK << /FunctionType 2 /Domain [0 1] /C0 [0 0 0 0] /C1 [1 1 1 1] /N 1 >>]")
    scan = pdf.stream("/Type /XObject /Subtype /Image /Width 60 /Height 60 /BitsPerComponent 8 /ColorSpace /DeviceRGB",
                      blurred_moth(60))
    layer = pdf.add("<< /Type /OCG /Name (old text) >>")
    stamp = pdf.stream(f"/Type /XObject /Subtype /Form /BBox [0 0 {number(30 * MM)} {number(8 * MM)}]",
                       f"1 0 0 RG 1 w 1 1 {number(30 * MM - 2)} {number(8 * MM - 2)} re S".encode())
    note = pdf.add(f"<< /Type /Annot /Subtype /Stamp /F 4 /Rect [{number(110 * MM)} {number(8 * MM)} "
                   f"{number(140 * MM)} {number(16 * MM)}] /AP << /N {stamp} 0 R >> >>")
    streams = [pdf.stream("", "\n".join(page.ops).encode("latin-1")) for page in (front, back)]
    tree = len(pdf.objects) + 3
    kids = []
    for stream, extra in zip(streams, ("", f"/Annots [{note} 0 R] ")):
        kids.append(pdf.add(
            f"<< /Type /Page /Parent {tree} 0 R /MediaBox [0 0 {number(wide * MM)} {number(high * MM)}] {extra}"
            f"/Contents {stream} 0 R /Resources << /Font << /F1 {type0} 0 R >> /XObject << /Scan {scan} 0 R >> "
            f"/Properties << /Other {layer} 0 R >> /ColorSpace << /LunaGreen {blue} 0 R /SmallBlue {small} 0 R "
            f"/WingRust {orange} 0 R /LampYellow {orange} 0 R /All {every} 0 R >> "
            f"/ExtGState << /Over << /OP true /op true /OPM 1 >> >> >> >>"))
    pdf.add(f"<< /Type /Pages /Kids [{' '.join(f'{kid} 0 R' for kid in kids)}] /Count 2 >>")
    root = pdf.add(f"<< /Type /Catalog /Pages {tree} 0 R /OCProperties << /OCGs [{layer} 0 R] "
                   f"/D << /OFF [{layer} 0 R] >> >> >>")
    pdf.write(out, root)


def trail_card(out, messy):
    """A card on kraft board. Messy: four inks under eleven names and builds; else the four that are meant."""
    pdf = Pdf()
    font = Font(FONT)
    page = Page(font)
    wide, high, edge = 111.0, 154.0, 3.0

    def ink(name, stroke=False):
        # What a colour is called, or built from, depends on who drew it.
        if messy and isinstance(name, tuple):
            page.op(*name[1], "K" if stroke else "k")
        else:
            page.ink(name[0] if isinstance(name, tuple) else name, 1, stroke)

    def leaf(x, y, turn, build):
        ink(("TrailGreen", build))
        page.path(f"M {x} {y} C {x + 3 * turn} {y + 6} {x + 9 * turn} {y + 8} {x + 14 * turn} {y + 5} "
                  f"C {x + 11 * turn} {y - 2} {x + 5 * turn} {y - 4} {x} {y} Z")
        page.op("f")

    # The moth: copper wings, veins and edges under two other names of copper, eyes white.
    moth(page, 55.5, 112, 0.17)
    ink("TrailGreen", True)
    page.op(1.2 * MM, "w 0 J")
    page.path("M 9 9 L 102 9 L 102 145 L 9 145 Z")
    page.op("S")
    # The path, in a second green that somebody mixed by eye.
    ink("PathGreen", True)
    page.op(2 * MM, "w 1 J 1 j")
    page.path("M 18 22 C 40 34 20 50 44 52 C 66 54 70 30 92 44")
    page.op("S")
    # Leaves built from process inks, by hand, each a little different.
    for i, (x, y, turn) in enumerate(((30, 36, 1), (34, 46, -1), (50, 53, 1), (62, 48, -1), (76, 36, 1), (82, 39, -1))):
        leaf(x, y, turn, ((0.8, 0.2, 0.85, 0.2), (0.79, 0.2, 0.85, 0.2), (0.8, 0.21, 0.86, 0.2))[i % 3])
    ink("TitleCopper")
    page.text("QUARRY TRAIL", 55.5, 128, 26, 1)
    ink("White")
    for x, y in ((18, 22), (44, 52), (92, 44)):
        page.circle(x, y, 3.4)
        page.op("f")
    # Text: black, and the black of four inks that a word processor made.
    page.op("0 0 0 1 k")
    for word, x, y in (("1", 18, 20.6), ("2", 44, 50.6), ("3", 92, 42.6)):
        page.text(word, x, y, 10)
    page.op("0 0 0 1 k" if not messy else "0.6 0.5 0.5 1 k")
    page.text("three stops, two hours, one lamp", 55.5, 13, 8)
    # A small sign in an ink of its own.
    ink("SignBlue")
    page.circle(99, 12, 0.9)
    page.op("f")

    type0 = embed_font(pdf, font, page.used)
    copper = spot(pdf, "Moth Copper", 0.2, 0.55, 0.75, 0.25)
    green = spot(pdf, "Trail Green", 0.8, 0.2, 0.85, 0.2)
    white = spot(pdf, "White", 0, 0, 0, 0)
    names = {"LunaGreen": copper, "WingRust": copper, "TitleCopper": copper, "LampYellow": white, "White": white,
             "TrailGreen": green, "PathGreen": green, "SignBlue": green}
    if messy:
        names["WingRust"] = spot(pdf, "MOTH COPPER", 0.2, 0.55, 0.75, 0.25)
        names["TitleCopper"] = spot(pdf, "moth-copper", 0.22, 0.55, 0.75, 0.25)
        names["PathGreen"] = spot(pdf, "Path Green", 0.78, 0.18, 0.85, 0.2)
        names["SignBlue"] = spot(pdf, "Dusk Blue", 0.85, 0.55, 0.1, 0.2)
    spaces = " ".join(f"/{key} {value} 0 R" for key, value in names.items())
    contents = pdf.stream("", "\n".join(page.ops).encode("latin-1"))
    tree = len(pdf.objects) + 2
    trim = f"{number(edge * MM)} {number(edge * MM)} {number((wide - edge) * MM)} {number((high - edge) * MM)}"
    one = pdf.add(f"<< /Type /Page /Parent {tree} 0 R /MediaBox [0 0 {number(wide * MM)} {number(high * MM)}] "
                  f"/TrimBox [{trim}] /Contents {contents} 0 R /Resources << /Font << /F1 {type0} 0 R >> "
                  f"/ColorSpace << {spaces} >> /ExtGState << /Over << /OP true /op true /OPM 1 >> >> >> >>")
    pdf.add(f"<< /Type /Pages /Kids [{one} 0 R] /Count 1 >>")
    root = pdf.add(f"<< /Type /Catalog /Pages {tree} 0 R >>")
    pdf.write(out, root)


def badge(out):
    """A badge somebody flattened into pixels at 200 ppi: three flat colours with antialiased edges on white."""
    side, fine = 300, 4
    white, green, rust, yellow = (255, 255, 255), (38, 122, 70), (178, 70, 32), (250, 205, 70)

    def colour(x, y):
        x, y = (x - side / 2) / (side / 2), (y - side / 2) / (side / 2)
        r = math.hypot(x, y)
        if r > 0.96:
            return white
        if r > 0.86:
            return rust
        wing = abs(x) - 0.08
        if 0 < wing < 0.62 and -0.42 + 0.5 * wing < y < 0.42 - 0.4 * wing + 0.3 * math.sin(4 * wing):
            eye = math.hypot(abs(x) - 0.4, y + 0.02)
            return rust if eye < 0.05 else yellow if eye < 0.1 else green
        if abs(x) < 0.07 and abs(y) < 0.5:
            return rust
        return yellow if r > 0.78 else white

    rows = bytearray()
    for py in range(side):
        rows.append(0)
        for px in range(side):
            sums = [0, 0, 0]
            for sy in range(fine):
                for sx in range(fine):
                    for k, v in enumerate(colour(px + (sx + 0.5) / fine, py + (sy + 0.5) / fine)):
                        sums[k] += v
            rows.extend(round(v / (fine * fine)) for v in sums)

    write_png(out, side, side, rows, 2, 200)


def write_png(out, width, height, rows, colours, ppi):
    """Rows with a filter byte before each; colours 2 = RGB, 6 = RGB with alpha."""
    def chunk(name, data):
        return struct.pack(">I", len(data)) + name + data + struct.pack(">I", zlib.crc32(name + data))

    per_metre = round(ppi / 0.0254)
    with open(out, "wb") as handle:
        handle.write(b"\x89PNG\r\n\x1a\n"
                     + chunk(b"IHDR", struct.pack(">IIBBBBB", width, height, 8, colours, 0, 0, 0))
                     + chunk(b"pHYs", struct.pack(">IIB", per_metre, per_metre, 1))
                     + chunk(b"IDAT", zlib.compress(bytes(rows), 9)) + chunk(b"IEND", b""))


def painting(out):
    """A moth painted at night, for a dark shirt: soft strokes, a lamp's glow that fades out, no flat colour."""
    width, height, cell = 720, 640, 24

    def lattice(x, y, seed):
        n = (x * 374761393 + y * 668265263 + seed * 974634777) & 0xFFFFFFFF
        n = ((n ^ (n >> 13)) * 1274126177) & 0xFFFFFFFF
        return ((n ^ (n >> 16)) & 0xFFFF) / 65535

    def strokes(x, y, seed, along):
        """Noise drawn out along a direction, 0 to 1."""
        c, s = math.cos(along), math.sin(along)
        u, v = (x * c + y * s) / (3.2 * cell), (y * c - x * s) / (0.35 * cell)
        x0, y0 = math.floor(u), math.floor(v)
        fx, fy = u - x0, v - y0
        fx, fy = fx * fx * (3 - 2 * fx), fy * fy * (3 - 2 * fy)
        a = lattice(x0, y0, seed) * (1 - fx) + lattice(x0 + 1, y0, seed) * fx
        b = lattice(x0, y0 + 1, seed) * (1 - fx) + lattice(x0 + 1, y0 + 1, seed) * fx
        return a * (1 - fy) + b * fy

    def mix(a, b, t):
        t = min(1.0, max(0.0, t))
        return tuple(p + (q - p) * t for p, q in zip(a, b))

    def edge(value, soft):
        return min(1.0, max(0.0, value / soft + 0.5))

    night, lamp, ember = (28, 30, 66), (255, 214, 120), (214, 96, 44)
    moss, leaf, bone = (52, 104, 62), (150, 176, 84), (238, 226, 198)
    plum, rose = (104, 44, 98), (216, 120, 138)
    rows = bytearray()
    for py in range(height):
        rows.append(0)
        for px in range(width):
            x, y = (px - width / 2) / 300, (py - height / 2) / 300
            away = math.hypot(x, y + 0.1)
            glow = math.exp(-2.6 * away * away)
            grain = strokes(px, py, 1, 0.4 + 2.2 * x)
            colour = mix(night, lamp, glow * (0.75 + 0.5 * grain))
            alpha = edge(1.06 - away + 0.12 * (strokes(px, py, 2, 1.1) - 0.5), 0.5)
            side = abs(x)
            # The upper wing, then the lower one, each with its veins, border and eye.
            upper = 0.62 - math.hypot((side - 0.52) / 1.02, (y + 0.16 + 0.34 * side) / 0.62)
            lower = 0.44 - math.hypot((side - 0.36) / 0.86, (y - 0.36 - 0.15 * side) / 1.0)
            angle = math.atan2(y + 0.05, side + 0.05)
            brush = strokes(px, py, 3, angle if x > 0 else math.pi - angle)
            vein = 0.5 + 0.5 * math.cos(26 * angle + 3 * brush)
            if lower > -0.03:
                wing = mix(rose, plum, 1.5 * (0.44 - lower) + 0.5 * (brush - 0.5))
                wing = mix(wing, bone, 0.35 * (vein ** 8))
                eye = math.hypot(side - 0.4, y - 0.46)
                wing = mix(wing, lamp, edge(0.10 - eye, 0.03))
                wing = mix(wing, night, edge(0.055 - eye, 0.02))
                colour = mix(colour, wing, edge(lower, 0.03))
                alpha = max(alpha, edge(lower, 0.03))
            if upper > -0.03:
                wing = mix(leaf, moss, 1.3 * (0.62 - upper) + 0.7 * (brush - 0.5))
                wing = mix(wing, bone, 0.3 * (vein ** 10))
                wing = mix(wing, ember, edge(0.07 - upper, 0.08) * (0.6 + 0.6 * brush))
                eye = math.hypot(side - 0.58, y + 0.34)
                wing = mix(wing, bone, edge(0.13 - eye, 0.03))
                wing = mix(wing, ember, edge(0.10 - eye, 0.03))
                wing = mix(wing, night, edge(0.05 - eye, 0.02))
                colour = mix(colour, wing, edge(upper, 0.03))
                alpha = max(alpha, edge(upper, 0.03))
            body = 0.07 - math.hypot(x, max(0.0, abs(y - 0.02) - 0.34))
            if body > -0.02:
                fur = mix(bone, ember, 0.5 + 0.5 * math.sin(34 * y) + 0.8 * (brush - 0.5))
                colour = mix(colour, mix(fur, night, 5 * (0.07 - body) - 0.1), edge(body, 0.02))
                alpha = max(alpha, edge(body, 0.02))
            rows.extend(min(255, max(0, round(v))) for v in colour)
            rows.append(round(255 * alpha))
    write_png(out, width, height, rows, 6, 100)


def handbill_job(handbill_file, out):
    """The handbill as a job for the duplicator: everything on its two inks, the photo as a tint of one."""
    with open(handbill_file, "rb") as handle:
        original = handle.read()
    usual = {"opacity": 0, "gain": []}

    def plate(ink, lab, angle):
        return {"ink": ink, "kind": "spot", "solid_lab": lab, "lpi": 85, "angle": angle, "dot": "round",
                "traits": usual}

    def target(ink, own, tint, curve=()):
        return {"ink": ink, "own_tint": own, "tint": tint, "curve": [list(point) for point in curve]}

    def by_ink(name, ink):
        return {"by": "ink", "name": name, "to": "plates", "targets": [target(ink, True, 1)]}

    photo = {"by": "objects", "to": "plates",
             "objects": [{"page": 1, "index": 36, "kind": "image", "area_mm": [12, 102, 30, 30]}],
             "targets": [target("Dusk Blue", True, 0.85, [(0, 0), (0.5, 0.42), (1, 1)])]}
    write_job(out, "handbill.pdf", original, {
        "name": "handbill, two inks",
        "plates": [plate("Lantern Orange", [70.8, 31.6, 64.5], 75), plate("Dusk Blue", [39.1, -2.5, -33], 45)],
        "routes": [photo, by_ink("Dusk blue", "Dusk Blue"), by_ink("Black", "Dusk Blue"),
                   by_ink("Cyan", "Dusk Blue"), by_ink("Magenta", "Lantern Orange"),
                   by_ink("Yellow", "Lantern Orange")],
        "film": film(600)})


def film(dpi):
    return {"dpi": dpi, "format": "tiff", "box": "media", "marks": True, "mirror": False, "negative": False}


def write_job(out, name, original, job):
    """A job file around a customer's file."""
    job = {"format": "bichrom job", "version": 7,
           "artwork": {"entry": "artwork/original.pdf", "name": name,
                       "sha256": hashlib.sha256(original).hexdigest(), "page": 1},
           "placed": {"below": 0, "artworks": []}, **job}
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in (("job.json", json.dumps(job, indent=2) + "\n"), ("artwork/original.pdf", original)):
            entry = zipfile.ZipInfo(name, (2026, 1, 1, 0, 0, 0))  # the same bytes every time
            entry.compress_type = zipfile.ZIP_DEFLATED
            archive.writestr(entry, data)


def built_plate(ink, kind, lab, angle, opacity=0.0, recipe=(), hits=1, flash=False, mesh=0, tin="", lpi=55):
    """A plate as the stage Build leaves it."""
    return {"ink": ink, "kind": kind, "solid_lab": lab, "lpi": lpi, "angle": angle, "dot": "round",
            "traits": {"opacity": opacity, "gain": []}, "recipe": list(recipe), "tin": tin, "hits": hits,
            "wet": False, "flash": flash, "mesh_per_cm": mesh}


def step(does, source=None, amount=1, mm=0, tonal=False):
    entry = {"do": does, "amount": amount, "distance_mm": mm, "tonal": tonal}
    if source is not None:
        entry["source"] = source
    return entry


def area(*inks, windows=False):
    return {"from": "area", "inks": list(inks), "windows": windows}


def no_print(ink):
    return {"by": "ink", "name": ink, "to": "nothing", "targets": []}


def stock(name, lab, clear=False, absorbs=True):
    return {"name": name, "lab": lab, "clear": clear, "absorbs": absorbs, "reflectance": None}


GREEN, RUST, YELLOW = [71.3, -28.2, 18.4], [47.6, 44.1, 40.2], [82.4, 10.7, 62.5]


def tote_job(file, out):
    """The tote on black cotton: a base, solid under flat art and as strong as the ink under the glow, choked and
    flashed, then the three inks."""
    glow = {"from": "tonal", "inks": []}
    tones = {"from": "tonal", "inks": ["Lamp Yellow", "Luna Green", "Wing Rust"]}
    with open(file, "rb") as handle:
        original = handle.read()
    write_job(out, "night-tote.pdf", original, {
        "name": "night tote, black cotton",
        "plates": [
            built_plate("Base White", "white", [96, 0, 0], 7.5, 0.9,
                        [step("add", area()), step("choke", mm=0.2), step("take away", glow),
                         step("add", tones), step("keep", dict(area(), anywhere=True), mm=0.2)], hits=2, flash=True, mesh=43),
            built_plate("Lamp Yellow", "spot", YELLOW, 22.5, 0.5, mesh=77),
            built_plate("Luna Green", "spot", GREEN, 52.5, 0.5, mesh=77),
            built_plate("Wing Rust", "spot", RUST, 82.5, 0.5, mesh=77)],
        "routes": [no_print("Black")], "stock": stock("Black cotton", [16, 0, -1]),
        "film": film(1200), **EMPTY})


def card_job(file, out):
    """The trail card on kraft board: white under the green, copper, black, and a varnish off edges and text."""
    with open(file, "rb") as handle:
        original = handle.read()
    away = step("keep away", {"from": "box", "box": "trim"}, mm=2)
    text = step("take away", {"from": "small text", "under_pt": 9}, mm=-0.3)
    write_job(out, "trail-card.pdf", original, {
        "name": "trail card, kraft board",
        "plates": [
            built_plate("Base White", "white", [96, 0, 0], 7.5, 0.9,
                        [step("add", area("Trail Green")), step("choke", mm=0.1)], mesh=120),
            built_plate("White", "white", [96, 0, 0], 7.5, 0.9, tin="Base White", mesh=120),
            built_plate("Trail Green", "spot", [46.2, -34.6, 24.9], 52.5, mesh=120),
            built_plate("Moth Copper", "metallic", [58.5, 21.3, 27.8], 22.5, 1, mesh=90),
            built_plate("Black", "process", [16, 0, 0], 45, mesh=120),
            built_plate("Varnish", "varnish", [98, 0, 1], 82.5,
                        recipe=[step("add", area()), away, text], mesh=150)],
        "routes": [], "stock": stock("Kraft board", [64, 9, 24]), "film": film(1200), **EMPTY})


EMPTY = {"rules": "", "accepted": [], "questions": [], "change_states": {}, "pins": [],
         "reading": {"assumed_ppi": 300, "intent": "relative", "black_point": True,
                     "convert_cmyk": False, "condition": None, "untagged_rgb": None}}


def token(out):
    """A clear acrylic token: a moth in a ring, and a round window through which the hand that holds it is seen."""
    pdf = Pdf()
    font = Font(FONT)
    page = Page(font)
    side = 60.0
    page.ink("LampYellow", 0.6)
    page.circle(30, 30, 24)
    page.op("f")
    page.ink("LunaGreen", 1, stroke=True)
    page.op(1.6 * MM, "w")
    page.circle(30, 30, 23)
    page.op("S")
    moth(page, 30, 41, 0.07)
    page.ink("WingRust", 1)
    page.text("MOTH WATCH", 30, 12, 8, 0.3)
    # The window, and a hole for the string: no ink, the acrylic itself.
    page.op("0 0 0 0 k")
    page.circle(30, 50.2, 1.8)
    page.op("f")
    page.circle(30, 18.2, 1.6)
    page.op("f")
    type0 = embed_font(pdf, font, page.used)
    green = spot(pdf, "Luna Green", 0.5, 0, 0.55, 0.05)
    rust = spot(pdf, "Wing Rust", 0.1, 0.75, 0.9, 0.1)
    yellow = spot(pdf, "Lamp Yellow", 0, 0.22, 0.8, 0)
    contents = pdf.stream("", "\n".join(page.ops).encode("latin-1"))
    tree = len(pdf.objects) + 2
    size = number(side * MM)
    one = pdf.add(f"<< /Type /Page /Parent {tree} 0 R /MediaBox [0 0 {size} {size}] "
                  f"/Contents {contents} 0 R /Resources << /Font << /F1 {type0} 0 R >> "
                  f"/ColorSpace << /LunaGreen {green} 0 R /WingRust {rust} 0 R /LampYellow {yellow} 0 R >> "
                  f"/ExtGState << /Over << /OP true /op true /OPM 1 >> >> >> >>")
    pdf.add(f"<< /Type /Pages /Kids [{one} 0 R] /Count 1 >>")
    root = pdf.add(f"<< /Type /Catalog /Pages {tree} 0 R >>")
    pdf.write(out, root)


def token_job(file, out):
    """The token: printed on the back of clear acrylic, white last, windows left clear, a cut line around it."""
    with open(file, "rb") as handle:
        original = handle.read()
    window = {"by": "colour",
              "colour": {"space": "DeviceCMYK", "profile": "", "colorants": ["Cyan", "Magenta", "Yellow", "Black"],
                         "values": [0, 0, 0, 0]},
              "lab": [100, 0, 0], "tolerance": 0, "measure": "delta e", "to": "bare stock", "targets": []}
    write_job(out, "trail-token.pdf", original, {
        "name": "trail token, clear acrylic",
        "plates": [
            built_plate("Wing Rust", "spot", RUST, 22.5, mesh=120),
            built_plate("Luna Green", "spot", GREEN, 52.5, mesh=120),
            built_plate("Lamp Yellow", "spot", YELLOW, 82.5, mesh=120),
            built_plate("Base White", "white", [96, 0, 0], 7.5, 0.9,
                        [step("add", area()), step("choke", mm=0.1)], mesh=90),
            built_plate("Cut line", "technical", [52, 72, -12], 0,
                        recipe=[step("add", area(windows=True)), step("fill holes", mm=10),
                                step("spread", mm=2), step("outline", mm=0.25)])],
        "routes": [window],
        "stock": {**stock("Clear acrylic over wood", [58, 12, 26], True, False), "behind": True},
        "film": film(1200), **EMPTY})


def main():
    folder = sys.argv[1] if len(sys.argv) > 1 else HERE
    os.makedirs(folder, exist_ok=True)
    tote(os.path.join(folder, "night-tote.pdf"))
    handbill(os.path.join(folder, "handbill.pdf"))
    handbill_job(os.path.join(folder, "handbill.pdf"), os.path.join(folder, "handbill.bichrom"))
    badge(os.path.join(folder, "moth-badge.png"))
    painting(os.path.join(folder, "moth-plate.png"))
    trail_card(os.path.join(folder, "trail-card.pdf"), False)
    trail_card(os.path.join(folder, "trail-card-messy.pdf"), True)
    token(os.path.join(folder, "trail-token.pdf"))
    tote_job(os.path.join(folder, "night-tote.pdf"), os.path.join(folder, "night-tote.bichrom"))
    card_job(os.path.join(folder, "trail-card.pdf"), os.path.join(folder, "trail-card.bichrom"))
    token_job(os.path.join(folder, "trail-token.pdf"), os.path.join(folder, "trail-token.bichrom"))


if __name__ == "__main__":
    main()
