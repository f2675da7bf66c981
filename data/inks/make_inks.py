#!/usr/bin/env python3
"""Writes quarry-inks.txt: made-up inks with plausible colours, CGATS text.

Usage: make_inks.py > quarry-inks.txt    (same bytes every time)

Names come from the setting of the demo; colours lie on rings of hue at lightnesses and chromas that
pigments reach on coated paper. No ink, name or value is that of any maker.
"""
import math

# hue in degrees, and for four strengths: light, clear, deep, muted
HUES = [(15, "Madder"), (30, "Wing Rust"), (40, "Brick Dust"), (52, "Ember"), (63, "Apricot Lamp"), (75, "Amber Resin"),
        (86, "Lantern"), (95, "Broom"), (104, "Primrose"), (115, "Gorse"), (128, "Lichen"), (140, "Fern"),
        (152, "Luna Green"), (166, "Bottle"), (180, "Pond"), (196, "Verdigris"), (212, "Rain"), (228, "Kingfisher"),
        (245, "Dusk Blue"), (260, "Slate Sky"), (272, "Gentian"), (285, "Night Iris"), (300, "Foxglove"),
        (316, "Heather"), (332, "Orchid Moth"), (348, "Campion"), (2, "Rosehip")]
STRENGTHS = [("Pale", 84, 0.30), ("Bright", None, 1.0), ("Deep", None, 0.8), ("Dull", 58, 0.38)]


# Where pigments are strongest on coated paper: hue, lightness, chroma. Rounded, common practice, no source.
STRONG = [(0, 48, 72), (35, 50, 80), (60, 65, 88), (90, 85, 92), (105, 82, 84), (140, 58, 66), (160, 50, 62),
          (190, 52, 50), (230, 55, 50), (260, 42, 48), (290, 32, 54), (320, 40, 64), (345, 47, 72), (360, 48, 72)]
# Inks that the demo prints.
FIXED = {"Luna Green": (72.5, -31.0, 24.0), "Wing Rust": (52.0, 44.0, 41.0), "Dusk Blue": (38.0, -1.0, -33.0)}


def strongest(h):
    for (h0, l0, c0), (h1, l1, c1) in zip(STRONG, STRONG[1:]):
        if h0 <= h <= h1:
            share = (h - h0) / (h1 - h0)
            return l0 + share * (l1 - l0), c0 + share * (c1 - c0)
    raise ValueError(h)


def rows():
    for h, name in HUES:
        light, full = strongest(h)
        for word, l, share in STRENGTHS:
            value = l if l is not None else (light if word == "Bright" else light * 0.62)
            c = full * share
            full_name = f"{word} {name}" if word != "Bright" else name
            lab = FIXED.get(full_name, (value, c * math.cos(math.radians(h)), c * math.sin(math.radians(h))))
            yield (full_name, *lab, "spot", 0.1 if word != "Pale" else 0.35)
    yield from [("Night Black", 16, 0.3, -0.6, "spot", 0.3), ("Soot", 24, 0.5, 1.2, "spot", 0.3),
                ("Quarry Grey", 48, -0.4, -1.8, "spot", 0.4), ("Lichen Grey", 66, -3.5, 4.2, "spot", 0.4),
                ("Moon Grey", 80, -0.6, -1.0, "spot", 0.4), ("Lamp Yellow", 87, 4, 78, "spot", 0.1),
                ("Lantern Orange", 67, 46, 70, "spot", 0.1), ("Base White", 94, -0.8, 0.6, "white", 0.85),
                ("Highlight White", 96, -0.5, 0.2, "white", 0.95), ("Chalk White", 93, 0.2, 2.4, "white", 0.7),
                ("Spot Varnish", 95, 0, -1.5, "varnish", 0), ("Matt Varnish", 94, 0, -1.0, "varnish", 0.05),
                ("Copper Metallic", 55, 22, 30, "metallic", 0.9), ("Tin Metallic", 70, -0.5, -1.2, "metallic", 0.9),
                ("Lamp Brass Metallic", 66, 4, 34, "metallic", 0.9), ("Moth Gold Foil", 72, 6, 42, "foil", 1),
                ("Mirror Foil", 82, -0.4, 0.3, "foil", 1), ("Cut Line", 50, 70, 10, "technical", 0),
                ("Fold Line", 50, -50, 30, "technical", 0)]


def main():
    table = list(rows())
    print('CGATS.17\nORIGINATOR "Bichrom"\nDESCRIPTOR "Quarry inks, made up"\nILLUMINATION_NAME "D50"\n'
          'OBSERVER_ANGLE "2"\nKEYWORD "INK_USE"\nKEYWORD "INK_OPACITY"\nNUMBER_OF_FIELDS 7\nBEGIN_DATA_FORMAT\n'
          'SAMPLE_ID\tSAMPLE_NAME\tLAB_L\tLAB_A\tLAB_B\tINK_USE\tINK_OPACITY\nEND_DATA_FORMAT')
    print(f"NUMBER_OF_SETS {len(table)}\nBEGIN_DATA")
    for i, (name, l, a, b, use, opacity) in enumerate(table, 1):
        print(f'{i}\t"{name}"\t{l:.1f}\t{a:.1f}\t{b:.1f}\t{use}\t{opacity:g}')
    print("END_DATA")


if __name__ == "__main__":
    main()
