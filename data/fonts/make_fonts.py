#!/usr/bin/env python3
"""Makes the program's typeface from Inter (SIL Open Font License 1.1, Debian package fonts-inter).

Usage: make_fonts.py [/usr/share/fonts/opentype/inter]

Changes: figures 0–9 are the tabular ones (feature tnum), so that columns of numbers line
up without a feature switch; the family is called "Bichrom Sans". Only Python's standard library.
"""
import os
import struct
import sys

FAMILY = "Bichrom Sans"
WEIGHTS = {"Regular": "Inter-Regular.otf", "Medium": "Inter-Medium.otf", "SemiBold": "Inter-SemiBold.otf"}


def u16(data, at):
    return struct.unpack(">H", data[at:at + 2])[0]


def u32(data, at):
    return struct.unpack(">I", data[at:at + 4])[0]


def read_tables(data):
    tables = {}
    for i in range(u16(data, 4)):
        tag, _, offset, length = struct.unpack(">4sIII", data[12 + 16 * i:28 + 16 * i])
        tables[tag] = data[offset:offset + length]
    return tables


def read_map(cmap):
    for i in range(u16(cmap, 2)):
        offset = u32(cmap, 8 + 8 * i)
        if u16(cmap, offset) == 12:
            result = {}
            for k in range(u32(cmap, offset + 12)):
                start, end, glyph = struct.unpack(">III", cmap[offset + 16 + 12 * k:offset + 28 + 12 * k])
                for code in range(start, end + 1):
                    result[code] = glyph + code - start
            return result
    raise SystemExit("no format 12 character map")


def coverage(gsub, at):
    if u16(gsub, at) == 1:
        return [u16(gsub, at + 4 + 2 * i) for i in range(u16(gsub, at + 2))]
    glyphs = []
    for i in range(u16(gsub, at + 2)):
        start, end, _ = struct.unpack(">HHH", gsub[at + 4 + 6 * i:at + 10 + 6 * i])
        glyphs.extend(range(start, end + 1))
    return glyphs


def single_substitutions(gsub, feature):
    features, lookups = u16(gsub, 6), u16(gsub, 8)
    result = {}
    for i in range(u16(gsub, features)):
        at = features + 2 + 6 * i
        if gsub[at:at + 4] != feature:
            continue
        table = features + u16(gsub, at + 4)
        for k in range(u16(gsub, table + 2)):
            lookup = lookups + u16(gsub, lookups + 2 + 2 * u16(gsub, table + 4 + 2 * k))
            kind = u16(gsub, lookup)
            for s in range(u16(gsub, lookup + 4)):
                sub = lookup + u16(gsub, lookup + 6 + 2 * s)
                sub_kind = kind
                if kind == 7:
                    sub_kind = u16(gsub, sub + 2)
                    sub += u32(gsub, sub + 4)
                if sub_kind != 1:
                    continue
                glyphs = coverage(gsub, sub + u16(gsub, sub + 2))
                for n, glyph in enumerate(glyphs):
                    if u16(gsub, sub) == 1:
                        target = (glyph + u16(gsub, sub + 4)) & 0xFFFF
                    else:
                        target = u16(gsub, sub + 6 + 2 * n)
                    result.setdefault(glyph, target)
    return result


def write_map(mapping):
    groups = []
    for code in sorted(mapping):
        glyph = mapping[code]
        if groups and code == groups[-1][1] + 1 and glyph == groups[-1][2] + code - groups[-1][0]:
            groups[-1][1] = code
        else:
            groups.append([code, code, glyph])
    body = b"".join(struct.pack(">III", *g) for g in groups)
    table = struct.pack(">HHIII", 12, 0, 16 + len(body), 0, len(groups)) + body
    return struct.pack(">HHHHIHHI", 0, 2, 0, 4, 20, 3, 10, 20) + table


def write_names(style):
    plain = style == "Regular"
    records = {1: FAMILY if plain else f"{FAMILY} {style}", 2: "Regular", 3: f"{FAMILY} {style} 1",
               4: f"{FAMILY} {style}", 5: "Version 1.0", 6: f"BichromSans-{style}",
               13: "SIL Open Font License, Version 1.1. Derived from Inter, copyright 2016-2022 The Inter Project Authors.",
               16: FAMILY, 17: style}
    strings = b""
    heads = b""
    for number, text in sorted(records.items()):
        code = text.encode("utf-16-be")
        heads += struct.pack(">HHHHHH", 3, 1, 0x409, number, len(code), len(strings))
        strings += code
    return struct.pack(">HHH", 0, len(records), 6 + len(heads)) + heads + strings


def checksum(data):
    data += b"\0" * (-len(data) % 4)
    return sum(struct.unpack(f">{len(data) // 4}I", data)) & 0xFFFFFFFF


def write_font(path, tables):
    head = bytearray(tables[b"head"])
    head[8:12] = b"\0\0\0\0"
    tables[b"head"] = bytes(head)
    count = len(tables)
    power = 1
    while power * 2 <= count:
        power *= 2
    out = struct.pack(">4sHHHH", b"OTTO", count, power * 16, power.bit_length() - 1, count * 16 - power * 16)
    place = 12 + 16 * count
    body = b""
    places = {}
    for tag in sorted(tables):
        places[tag] = place + len(body)
        out += struct.pack(">4sIII", tag, checksum(tables[tag]), places[tag], len(tables[tag]))
        body += tables[tag] + b"\0" * (-len(tables[tag]) % 4)
    font = bytearray(out + body)
    struct.pack_into(">I", font, places[b"head"] + 8, (0xB1B0AFBA - checksum(bytes(font))) & 0xFFFFFFFF)
    with open(path, "wb") as handle:
        handle.write(font)


def main():
    source = sys.argv[1] if len(sys.argv) > 1 else "/usr/share/fonts/opentype/inter"
    here = os.path.dirname(os.path.abspath(__file__))
    for style, name in WEIGHTS.items():
        with open(os.path.join(source, name), "rb") as handle:
            tables = read_tables(handle.read())
        mapping = read_map(tables[b"cmap"])
        tabular = single_substitutions(tables[b"GSUB"], b"tnum")
        for code in range(ord("0"), ord("9") + 1):
            mapping[code] = tabular[mapping[code]]
        tables[b"cmap"] = write_map(mapping)
        tables[b"name"] = write_names(style)
        tables.pop(b"DSIG", None)
        write_font(os.path.join(here, f"BichromSans-{style}.otf"), tables)


if __name__ == "__main__":
    main()
