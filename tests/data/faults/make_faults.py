#!/usr/bin/env python3
"""Makes the small PDFs of this folder, and expected.json: one fault each, with the checks that must tell it and
checks that must not; and six clean pages (clean-*.pdf) that no shipped rule set may complain about.

Run it here; it needs nothing but Python. The files are committed, so that tests need no Python."""
import json
import random
import zlib

W = 283.4646  # 100 mm
TRIM = "/TrimBox [28.3465 28.3465 255.1181 255.1181] /BleedBox [19.8425 19.8425 263.6220 263.6220]"
SPOT = "[/Separation /%s /DeviceCMYK << /FunctionType 2 /Domain [0 1] /N 1 /C0 [0 0 0 0] /C1 [%s] >>]"
SPACES = {
    "G": SPOT % ("Luna#20Green", "0.8 0 1 0"),
    "B": SPOT % ("Dusk#20Blue", "1 0.6 0 0.1"),
    "W": SPOT % ("Base#20White", "0.05 0 0 0"),
    "V": SPOT % ("Spot#20Varnish", "0 0 0.1 0"),
    "F": SPOT % ("Moth#20Foil", "0 0.1 0.3 0.3"),
    "C": SPOT % ("Cut#20Line", "0 1 0 0"),
    "K": SPOT % ("Night#20Black", "0.4 0.3 0.3 1"),
    "All": "[/Separation /All /DeviceCMYK << /FunctionType 2 /Domain [0 1] /N 1 /C0 [0 0 0 0] /C1 [1 1 1 1] >>]",
    "N": "[/DeviceN [/Luna#20Green /Dusk#20Blue] /DeviceCMYK << /FunctionType 4 /Domain [0 1 0 1] /Range "
         "[0 1 0 1 0 1 0 1] /Length 31 >>]",
}
STATES = "/OP << /OP true /op true /OPM 1 >> /Half << /ca 0.5 /CA 0.5 >> /Mul << /BM /Multiply >>"
FONT = ("/Sq << /Type /Font /Subtype /Type3 /FontBBox [0 0 1000 1000] /FontMatrix [0.001 0 0 0.001 0 0] /FirstChar 97 "
        "/LastChar 97 /Widths [900] /Encoding << /Type /Encoding /Differences [97 /a] >> /CharProcs << /a 20 0 R >> "
        "/Resources << >> >> /Out << /Type /Font /Subtype /Type1 /BaseFont /NowhereSans >>")


class Pdf:
    def __init__(self, contents, trim=TRIM, page="", catalog="", spaces=None, more=None, second=None, xobjects="",
                 patterns="", shadings=""):
        names = dict(SPACES)
        names.pop("N")
        names.update(spaces or {})
        resources = "<< /ColorSpace << %s >> /ExtGState << %s >> /Font << %s >> /XObject << %s >> /Pattern << %s >> " \
                    "/Shading << %s >> >>" % (" ".join("/%s %s" % one for one in names.items()), STATES, FONT, xobjects,
                                              patterns, shadings)
        self.objects = {
            1: "<< /Type /Catalog /Pages 2 0 R %s >>" % catalog,
            2: "<< /Type /Pages /Kids [3 0 R%s] /Count %d >>" % (" 5 0 R" if second else "", 2 if second else 1),
            3: "<< /Type /Page /Parent 2 0 R /MediaBox [0 0 %s %s] %s %s /Contents 4 0 R /Resources %s >>" %
               (W, W, trim, page, resources),
            4: self.stream(contents),
            20: self.stream("900 0 0 0 900 900 d1 0 0 700 700 re f"),
        }
        if second:
            self.objects[5] = "<< /Type /Page /Parent 2 0 R %s /Contents 6 0 R /Resources %s >>" % (second[0], resources)
            self.objects[6] = self.stream(second[1])
        for number, body in (more or {}).items():
            self.objects[number] = body

    @staticmethod
    def stream(data, entries=""):
        if isinstance(data, str):
            data = data.encode("latin-1")
        return b"<< " + entries.encode() + b" /Length %d >>\nstream\n" % len(data) + data + b"\nendstream"

    def save(self, name):
        out = b"%PDF-1.6\n"
        places = {}
        for number, body in sorted(self.objects.items()):
            places[number] = len(out)
            out += b"%d 0 obj\n" % number + (body.encode("latin-1") if isinstance(body, str) else body) + b"\nendobj\n"
        start = len(out)
        out += b"xref\n0 1\n0000000000 65535 f \n"
        for number, place in places.items():
            out += b"%d 1\n%010d 00000 n \n" % (number, place)
        out += b"trailer\n<< /Size %d /Root 1 0 R >>\nstartxref\n%d\n%%%%EOF\n" % (max(places) + 1, start)
        open(name, "wb").write(out)


def picture(width, height, pixels, space="/DeviceGray", bits=8, cut=1.0, extra=""):
    data = zlib.compress(bytes(pixels), 9)
    return Pdf.stream(data[:int(len(data) * cut)],
                      "/Type /XObject /Subtype /Image /Width %d /Height %d /ColorSpace %s /BitsPerComponent %d /Filter "
                      "/FlateDecode %s" % (width, height, space, bits, extra))


def noise(width, height, channels=1, seed=7):
    source = random.Random(seed)
    out = []
    for y in range(height):
        for x in range(width):
            for c in range(channels):
                out.append(max(0, min(255, 100 + (x * 40) // width + (y * 30) // height + source.randint(-40, 40))))
    return out


def strokes(width, height, dark=0, light=255):
    return [dark if x % 9 < 3 and y % 12 < 9 else light for y in range(height) for x in range(width)]


green = "/G cs 1 scn "
blue = "/B cs 1 scn "
box = "100 100 60 60 re f "
ground = "19 19 246 246 re f "
show = "q 100 0 0 100 90 90 cm /I Do Q "


def text(size, words="aaaa", x=90, y=140, font="Sq"):
    return "BT /%s %s Tf %s %s Td (%s) Tj ET " % (font, size, x, y, words)


def one(pixels, width, height, contents=show, **how):
    return Pdf(contents, xobjects="/I 21 0 R", more={21: picture(width, height, pixels, **how)})


AXIAL = "<< /ShadingType 2 /ColorSpace /DeviceGray /Coords [%s] /Function << /FunctionType 2 /Domain [0 1] /N 1 /C0 [%s] " \
        "/C1 [%s] >> /Extend [true true] >>"
STAMP = "<< /Type /Annot /Subtype /%s /Rect [100 100 150 130] /F 4 /AP << /N 22 0 R >> %s >>"
FORM = {22: Pdf.stream("1 0 0 rg 0 0 50 30 re f", "/Type /XObject /Subtype /Form /BBox [0 0 50 30]")}

# name: (PDF, checks that must tell, checks that must not)
FAULTS = {
    "cut-flate-picture": (one(noise(128, 128), 128, 128, cut=0.3), ["damaged_content"], []),
    "missing-form": (Pdf("/Nothing Do " + green + box), ["damaged_content"], []),
    "missing-colour-space": (Pdf("/Nothing cs 1 scn " + box), ["damaged_content"], []),
    "nonsense-operator": (Pdf(green + "nonsense " + box), ["damaged_content"], []),
    "blank-page": (Pdf("% nothing"), ["blank_page"], ["damaged_content"]),
    "white-page": (Pdf("0 0 0 0 k " + box), ["blank_page"], ["damaged_content"]),
    "second-page-other-size": (Pdf(green + box, second=("/MediaBox [0 0 200 200] /TrimBox [20 20 180 180] /BleedBox [10 10 190 190]", green + box)),
                               ["page_sizes"], ["blank_page"]),
    "intent-without-profile": (Pdf(green + box, catalog="/OutputIntents [<< /Type /OutputIntent /S /GTS_PDFX /OutputConditionIdentifier (FOGRA39) >>]"),
                               ["output_intent"], []),
    "intent-other-condition": (Pdf(green + box, catalog="/OutputIntents [<< /Type /OutputIntent /S /GTS_PDFX /OutputConditionIdentifier (FOGRA29) >>]"),
                               ["output_intent"], []),
    "one-ink-two-colours": (Pdf(green + box + "/G2 cs 1 scn 40 40 20 20 re f", spaces={"G2": SPOT % ("Luna#20Green", "0 1 0 0")}),
                            ["ink_alternates"], ["ink_twice"]),
    "spot-called-process-cyan": (Pdf("/P cs 1 scn " + box, spaces={"P": SPOT % ("Process#20Cyan", "1 0 0 0")}), ["process_as_spot"], []),
    "spot-called-cyan-2": (Pdf("/P cs 1 scn " + box, spaces={"P": SPOT % ("Cyan#202", "1 0 0 0")}), ["process_as_spot"], []),
    "spot-called-cyan-sea": (Pdf("/P cs 1 scn " + box, spaces={"P": SPOT % ("Cyan#20Sea", "1 0 0 0")}), [], ["process_as_spot"]),
    "three-near-names": (Pdf("/P cs 1 scn " + box + "/Q cs 1 scn 40 40 9 9 re f " + green + "60 40 9 9 re f",
                             spaces={"P": SPOT % ("luna#20green", "0.8 0 1 0"), "Q": SPOT % ("LUNA#20GREEN", "0.8 0 1 0")}),
                         ["ink_twice"], []),
    "blown-up-by-copying": (one([v for y in range(160) for v in [noise(40, 40)[(y // 4) * 40 + x // 4] for x in range(160)]], 160, 160),
                            ["image_upscaled"], []),
    "blown-up-by-smoothing": (one([(lambda p, x, y: (p[(y // 2) * 81 + x // 2] * (2 - x % 2) * (2 - y % 2) + p[(y // 2) * 81 + x // 2 + 1] * (x % 2) * (2 - y % 2) +
                                                       p[(y // 2 + 1) * 81 + x // 2] * (2 - x % 2) * (y % 2) + p[(y // 2 + 1) * 81 + x // 2 + 1] * (x % 2) * (y % 2)) // 4)
                                   (noise_81, x, y) for noise_81 in [noise(81, 81)] for y in range(160) for x in range(160)], 160, 160),
                              ["image_upscaled"], []),
    "picture-as-fine-as-its-pixels": (one(noise(160, 160), 160, 160), [], ["image_upscaled", "rasterised_text"]),
    "yellow-overprints-black": (Pdf("0 0 0 1 k " + ground + "/OP gs 0 0 1 0 k " + box), ["overprint_vanishes"], ["white_overprints"]),
    "tint-overprints-black-spot": (Pdf("/K cs 1 scn " + ground + "/OP gs /G cs 0.2 scn " + box), ["overprint_vanishes"], []),
    "yellow-overprints-cyan": (Pdf("1 0 0 0 k " + ground + "/OP gs 0 0 1 0 k " + box), ["overprint"], ["overprint_vanishes"]),
    "white-on-bare-paper": (Pdf(green + "40 40 20 20 re f 0 0 0 0 k " + box), ["white_on_stock"], ["blank_page"]),
    "white-on-colour": (Pdf(green + ground + "0 0 0 0 k " + box), [], ["white_on_stock"]),
    "white-sheet-under-all": (Pdf("0 0 0 0 k 0 0 283 283 re f " + green + box), [], ["white_on_stock"]),
    "art-under-white": (Pdf(green + box + "0 0 0 0 k 90 90 80 80 re f " + blue + "95 95 10 10 re f"), ["covered_art"], []),
    "art-under-colour": (Pdf(green + box + blue + "90 90 80 80 re f"), ["covered_art"], []),
    "art-under-transparent": (Pdf(green + box + "/Half gs " + blue + "90 90 80 80 re f"), ["transparency"], ["covered_art"]),
    "art-under-round-clip": (Pdf(green + box + "q 100 100 m 160 100 l 130 170 l h W n " + blue + "90 90 80 80 re f Q"), [], ["covered_art"]),
    "same-object-twice": (Pdf(green + box + box), ["stacked_twice"], []),
    "same-shape-other-colour": (Pdf(green + box + blue + box), [], ["stacked_twice"]),
    "text-across-the-trim": (Pdf(green + text(20, x=20)), ["text_at_trim"], []),
    "text-in-the-bleed": (Pdf(green + text(5, "aa", x=21, y=140)), ["text_at_trim"], []),
    "text-well-inside": (Pdf(green + text(20)), [], ["text_at_trim", "small_text", "screened_text"]),
    "small-text-in-a-tint": (Pdf("/G cs 0.4 scn " + text(10)), ["screened_text"], []),
    "large-text-in-a-tint": (Pdf("/G cs 0.4 scn " + text(30)), [], ["screened_text"]),
    "small-text-solid": (Pdf(green + text(10)), [], ["screened_text"]),
    "heavy-path": (Pdf(green + "100 100 m " + "".join("%d %d l " % (100 + i % 61, 100 + (i * 7) % 59) for i in range(20500)) + "f"),
                   ["heavy_path"], []),
    "long-weak-gradient": (Pdf("/S sh", shadings="/S " + AXIAL % ("0 0 283 0", "0.9", "0.7")), ["gradient_steps"], []),
    "short-strong-gradient": (Pdf("q 100 100 40 40 re W n /S sh Q", shadings="/S " + AXIAL % ("100 0 140 0", "1", "0")), [], ["gradient_steps"]),
    "colour-knocks-out-white": (Pdf("/W cs 1 scn " + ground + green + box), ["white_knocked_out"], []),
    "colour-overprints-white": (Pdf("/W cs 1 scn " + ground + "/OP gs " + green + box), [], ["white_knocked_out"]),
    "black-on-white": (Pdf("/W cs 1 scn " + ground + "/K cs 1 scn " + box), [], ["white_knocked_out"]),
    "varnish-knocks-out": (Pdf(green + ground + "/V cs 1 scn " + box), ["finish_knocks_out"], []),
    "varnish-overprints": (Pdf(green + ground + "/OP gs /V cs 1 scn " + box), [], ["finish_knocks_out"]),
    "thin-foil": (Pdf("/F CS 1 SCN 0.4 w 90 90 m 180 90 l S"), ["finish_thin"], []),
    "foil-at-the-trim": (Pdf("/F cs 1 scn 29 100 60 60 re f"), ["finish_near_edge"], []),
    "colour-under-foil": (Pdf(green + "90 90 80 80 re f /OP gs /F cs 1 scn " + box), ["under_foil"], []),
    "picture-on-foil": (one(noise(64, 64), 64, 64, space=SPACES["F"]), ["picture_in_line_plate"], []),
    "black-text-in-four-inks": (Pdf("0.6 0.5 0.5 1 k " + text(9)), ["built_black"], []),
    "night-black-text-and-yellow": (Pdf("/M cs 1 1 scn " + text(9), spaces={"M": "[/DeviceN [/Night#20Black /Yellow] /DeviceCMYK 23 0 R]"},
                                        more={23: Pdf.stream("{ exch 0.4 mul dup dup 1 4 index pop }", "/FunctionType 4 /Domain [0 1 0 1] /Range [0 1 0 1 0 1 0 1]")}),
                                    [], []),
    "night-black-text-on-colour": (Pdf(green + ground + "/K cs 1 scn " + text(9)), ["black_knocks_out"], []),
    "black-text-on-varnish": (Pdf("/V cs 1 scn " + ground + "0 0 0 1 k " + text(9)), [], ["black_knocks_out"]),
    "dark-text-on-a-light-tint": (Pdf("/G cs 0.2 scn " + ground + "/K cs 1 scn " + text(8)), [], ["small_text"]),
    "white-text-on-colour": (Pdf(blue + ground + "0 0 0 0 k " + text(6)), ["small_text"], []),
    "small-second-font": (Pdf(green + "BT /Sq 24 Tf 90 140 Td (a) Tj /Sq 3 Tf 30 0 Td (aaa) Tj ET"), ["small_text"], []),
    "missing-second-font": (Pdf(green + "BT /Sq 24 Tf 90 140 Td (a) Tj /Out 24 Tf 30 0 Td (moth) Tj ET"), ["fonts_missing"], []),
    "filled-sliver": (Pdf(green + "90 90 100 0.1 re f"), ["thin_line"], []),
    "line-of-no-width": (Pdf("/G CS 1 SCN 0 w 90 90 m 190 90 l S"), ["thin_line"], ["outside_bleed"]),
    "text-of-blanks": (Pdf(green + box + text(12, "   ")), [], ["outside_bleed"]),
    "object-in-a-pattern": (Pdf("/Pattern cs /P scn " + ground, patterns="/P 24 0 R",
                                more={24: Pdf.stream("/G cs 1 scn 0 0 5 5 re f", "/Type /Pattern /PatternType 1 /PaintType 1 /TilingType 1 /BBox [0 0 9 9] "
                                                     "/XStep 9 /YStep 9 /Resources << /ColorSpace << /G %s >> >>" % SPACES["G"])}),
                            [], ["outside_bleed"]),
    "crop-marks": (Pdf(green + box + "/All CS 1 SCN 0.5 w 28.35 2 m 28.35 16 l S 2 28.35 m 16 28.35 l S /G cs 0.5 scn 120 3 10 10 re f"),
                   ["outside_bleed"], ["registration_colour", "small_tint"]),
    "registration-colour-inside": (Pdf("/All cs 1 scn " + box), ["registration_colour"], []),
    "multiply": (Pdf(green + ground + "/Mul gs " + blue + box), ["transparency"], []),
    "soft-masked-picture": (Pdf(show, xobjects="/I 21 0 R", more={21: picture(64, 64, noise(64, 64), extra="/SMask 25 0 R"), 25: picture(64, 64, noise(64, 64))}),
                            ["transparency"], []),
    "form-field": (Pdf(green + box, page="/Annots [%s]" % (STAMP % ("Widget", "")), more=FORM), ["annotations"], []),
    "highlight": (Pdf(green + box, page="/Annots [%s]" % (STAMP % ("Highlight", "")), more=FORM), ["annotations"], []),
    "text-as-pixels-on-yellow": (Pdf("0 0 1 0 k " + ground + "/OP gs " + show, xobjects="/I 21 0 R", more={21: picture(100, 100, strokes(100, 100))}),
                                 ["rasterised_text"], []),
    "two-patches-of-too-much-ink": (Pdf("1 1 1 1 k 40 40 20 20 re f 200 200 20 20 re f"), ["total_ink"], []),
    "varnish-over-full-builds": (Pdf("1 1 0.5 0 k " + ground + "/OP gs /V cs 1 scn " + box + "/W cs 1 scn " + box), [], ["total_ink"]),
    "white-pixels-in-a-keep-out-zone": (one([255] * 4096, 64, 64, contents=green + "200 200 20 20 re f " + show), [], ["near_edge"]),
    "thin-line": (Pdf("/G CS 1 SCN 0.1 w 90 90 m 190 90 l S"), ["thin_line"], []),
    "faint": (Pdf("/G cs 0.004 scn " + box), ["near_invisible"], []),
    "rgb": (Pdf("1 0 0 rg " + box), ["unready_colour"], []),
}

CLEAN = {
    "clean-two-inks-with-marks": Pdf(green + "19.8425 19.8425 243.7795 243.7795 re f " + blue + box +
                                     "/All CS 1 SCN 0.5 w 28.35 2 m 28.35 14 l S 2 28.35 m 14 28.35 l S 255.12 2 m 255.12 14 l S"),
    "clean-text": Pdf(green + text(18) + blue + text(14, y=110)),
    "clean-line-art": one([((x ^ y) & 255) for y in range(1666) for x in range(209)], 1666, 1666, space=SPACES["B"], bits=1),
    "clean-photo": one(noise(417, 417), 417, 417, space=SPACES["B"]),
    "clean-gradient": Pdf("q 100 100 60 60 re W n /S sh Q", shadings="/S << /ShadingType 2 /ColorSpace %s /Coords [100 0 160 0] /Function "
                          "<< /FunctionType 2 /Domain [0 1] /N 1 /C0 [0.1] /C1 [0.9] >> /Extend [true true] >>" % SPACES["B"]),
    "clean-pattern": Pdf("/Pattern cs /P scn 100 100 60 60 re f", patterns="/P 24 0 R",
                         more={24: Pdf.stream("/G cs 1 scn 0 0 5 5 re f", "/Type /Pattern /PatternType 1 /PaintType 1 /TilingType 1 "
                                              "/BBox [0 0 9 9] /XStep 9 /YStep 9 /Resources << /ColorSpace << /G %s >> >>" % SPACES["G"])}),
}

expected = {}
for name, (pdf, must, must_not) in FAULTS.items():
    pdf.save(name + ".pdf")
    expected[name] = {"must": must, "must_not": must_not}
for name, pdf in CLEAN.items():
    pdf.save(name + ".pdf")
json.dump(expected, open("expected.json", "w"), indent=1)
print(len(FAULTS), "faults,", len(CLEAN), "clean")
