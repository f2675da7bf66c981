#include "core/report/proof.h"

#include "core/report/pdf_pages.h"
#include "core/report/proof_words.h"

namespace bichrom {

namespace {

constexpr const char *style = R"(
body { font: 14px/1.45 system-ui, sans-serif; background: #8f8f8c; color: #1c1c1b; margin: 0; }
main { max-width: 1180px; margin: 0 auto; padding: 20px; background: #dededb; }
h1 { font-size: 24px; margin: 0 0 8px; } h2 { font-size: 17px; margin: 26px 0 8px; }
[hidden] { display: none !important; }
dl { display: grid; grid-template-columns: max-content 1fr; gap: 2px 16px; margin: 0; }
dt, .quiet, figcaption { color: #50504d; } dd { margin: 0; }
.both { display: grid; grid-template-columns: 1fr 1fr; gap: 20px; align-items: start; }
figure { margin: 0; } figure img, figure canvas { width: 100%; height: auto; display: block; }
.plates { display: grid; grid-template-columns: repeat(auto-fill, minmax(150px, 1fr)); gap: 14px; }
.plates img { max-width: 100%; max-height: 170px; background: #fff; }
.plates label { display: block; cursor: pointer; } input { width: 17px; height: 17px; vertical-align: -3px; }
button { font: inherit; padding: 5px 14px; margin: 0 8px 12px 0; }
table { border-collapse: collapse; width: 100%; } td, th { text-align: left; padding: 4px 12px 4px 0;
vertical-align: top; border-bottom: 1px solid #b4b4b0; } th { font-weight: normal; color: #50504d; }
.box { border: 1px solid #1c1c1b; padding: 12px; display: grid; gap: 22px; }
.sign { display: grid; grid-template-columns: 2fr 1fr 3fr; gap: 24px; }
.sign span { border-top: 1px solid #1c1c1b; color: #50504d; font-size: 12px; margin-top: 26px; }
@media (max-width: 700px) { .both { grid-template-columns: 1fr; } }
)";

/// Shows the exact picture while all plates are on; else lays those that are on over each other, by the same
/// model (print/print_stack.h, colour/film_kernel.h).
constexpr const char *script = R"(
function proof(section) {
  const model = JSON.parse(section.querySelector('script').textContent);
  const boxes = [...section.querySelectorAll('input')], images = [...section.querySelectorAll('.plates img')];
  const exact = section.querySelector('.print'), canvas = section.querySelector('canvas');
  const said = section.querySelector('.said');
  let tones = null;
  function read() {
    if (tones) return;
    canvas.width = images[0].naturalWidth; canvas.height = images[0].naturalHeight;
    const pen = canvas.getContext('2d', {willReadFrequently: true});
    tones = images.map(image => {
      pen.drawImage(image, 0, 0);
      const data = pen.getImageData(0, 0, canvas.width, canvas.height).data;
      const plane = new Uint8Array(canvas.width * canvas.height);
      for (let i = 0; i < plane.length; ++i) plane[i] = 255 - data[4 * i];
      return plane;
    });
  }
  function between(table, tone) {
    const at = tone / 255 * (table.length - 1), low = Math.min(Math.floor(at), table.length - 2), f = at - low;
    return Array.isArray(table[0]) ? table[low].map((v, k) => v + f * (table[low + 1][k] - v))
                                   : table[low] + f * (table[low + 1] - table[low]);
  }
  function show() {
    const on = boxes.map(box => box.checked), all = on.every(Boolean);
    exact.hidden = !all; canvas.hidden = all;
    const off = boxes.filter(box => !box.checked).map(box => box.dataset.ink);
    said.textContent = all ? 'all plates' : 'without ' + off.join(', ');
    if (all) return;
    read();
    const layers = model.layers.filter(layer => on[layer.plane]).map(layer => {
      const rows = [];
      for (let t = 0; t < 256; ++t) rows.push(between(layer.passed || layer.gain, t));
      return {...layer, rows};
    });
    const pen = canvas.getContext('2d'), out = pen.createImageData(canvas.width, canvas.height);
    const seen = new Map(), root = new Float64Array(8);
    for (let i = 0; i < canvas.width * canvas.height; ++i) {
      let key = '';
      for (const layer of layers) key += String.fromCharCode(tones[layer.plane][i]);
      let rgb = seen.get(key);
      if (!rgb) {
        for (let k = 0; k < 8; ++k) root[k] = model.stock[k];
        for (const layer of layers) {
          const tone = tones[layer.plane][i];
          if (!tone) continue;
          if (layer.passed) { for (let k = 0; k < 8; ++k) root[k] *= layer.rows[tone][k]; continue; }
          for (let hit = 0; hit < layer.hits; ++hit)
            for (let k = 0; k < 8; ++k) {
              const r = root[k] * root[k];
              const solid = Math.sqrt(Math.max(0, layer.body[k] + layer.through[k] * r / (1 - layer.body[k] * r)));
              root[k] += layer.rows[tone] * (solid - root[k]);
            }
        }
        rgb = [0, 1, 2].map(c => {
          let light = 0;
          for (let k = 0; k < 8; ++k) light += (root[k] * root[k] + model.floor) * model.light[k][c];
          light = Math.min(1, Math.max(0, light));
          return 255 * (light <= 0.0031308 ? 12.92 * light : 1.055 * Math.pow(light, 1 / 2.4) - 0.055);
        });
        seen.set(key, rgb);
      }
      out.data[4 * i] = rgb[0]; out.data[4 * i + 1] = rgb[1]; out.data[4 * i + 2] = rgb[2];
      out.data[4 * i + 3] = 255;
    }
    pen.putImageData(out, 0, 0);
  }
  boxes.forEach(box => box.addEventListener('change', show));
  section.querySelector('.all').addEventListener('click', () => { boxes.forEach(box => box.checked = true); show(); });
  section.querySelector('.none').addEventListener('click', () => { boxes.forEach(box => box.checked = false); show(); });
}
document.querySelectorAll('section').forEach(proof);
)";

std::string table(const std::vector<std::string> &heads, const WordRows &rows)
{
    std::string html = "<table><tr>";
    for (const std::string &head : heads) {
        html += "<th>" + html_of(head) + "</th>";
    }
    html += "</tr>";
    for (const std::vector<std::string> &row : rows) {
        html += "<tr>";
        for (const std::string &cell : row) {
            html += "<td>" + html_of(cell) + "</td>";
        }
        html += "</tr>";
    }
    return html + "</table>\n";
}

Outcome<std::string> image(const ReportPicture &picture, const std::string &name, const std::string &words)
{
    const auto png = png_base64(picture);
    if (!png) {
        return png.error();
    }
    return "<img class=\"" + name + "\" width=\"" + std::to_string(picture.width) + "\" height=\"" +
           std::to_string(picture.height) + "\" style=\"height:auto\" alt=\"" + html_of(words) +
           "\" src=\"data:image/png;base64," + *png + "\">";
}

/// JSON as it may stand in a page: nothing in it ends the element.
std::string quiet_json(std::string json)
{
    for (std::size_t at = json.find('<'); at != std::string::npos; at = json.find('<', at + 6)) {
        json.replace(at, 1, "\\u003c");
    }
    return json;
}

Outcome<std::string> section_of(const Proof &proof)
{
    const auto original = image(proof.original, "original", "the artwork as it came");
    const auto print = image(proof.print, "print", "the print as predicted");
    if (!original || !print) {
        return original ? print.error() : original.error();
    }
    std::string html = "<section><h2>Page " + std::to_string(proof.job.page) + "</h2><dl>";
    for (const auto &[what, said] : proof_facts(proof)) {
        html += "<dt>" + html_of(what) + "</dt><dd>" + html_of(said) + "</dd>";
    }
    html += "</dl><h2>Artwork and print</h2><div class=\"both\"><figure>" + *original +
            "<figcaption>the artwork as it came</figcaption></figure><figure>" + *print +
            "<canvas hidden></canvas><figcaption>the print: <span class=\"said\">all "
            "plates</span></figcaption></figure></div><p class=\"quiet\">" +
            html_of(proof_caution(proof)) +
            " While all plates are on, the picture is the program's own; with some off the page computes it "
            "anew, mixtures of process inks roughly.</p><h2>Plates</h2><p><button class=\"all\">All "
            "plates</button><button class=\"none\">Bare stock</button></p><div class=\"plates\">";
    for (const ProofPlate &plate : proof.plates) {
        const std::string &ink = proof.job.plates[plate.number].ink;
        const auto grey = image(plate.grey, "plate", ink);
        if (!grey) {
            return grey.error();
        }
        html += "<label>" + *grey + "<input type=\"checkbox\" checked autocomplete=\"off\" data-ink=\"" +
                html_of(ink) + "\"> " + std::to_string(plate.number + 1) + " " + html_of(ink) +
                " <span class=\"quiet\">" + format_number(plate.coverage * 100, 1) + "\u00A0%</span></label>";
    }
    html += "</div><h2>Inks in printing order</h2>" + table(ink_heads(), ink_rows(proof)) +
            "<h2>Findings</h2>" +
            (proof.findings.empty() ? std::string("<p>Nothing that the shop's rules find stands open.</p>")
                                    : table(finding_heads(), finding_rows(proof))) +
            "<h2>Change slip</h2>" +
            (proof.changes.empty() ? std::string("<p>Nothing is changed: the file prints as it came.</p>")
                                   : table(change_heads(), change_rows(proof)));
    return html + "<script type=\"application/json\">" + quiet_json(proof.layers) + "</script></section>\n";
}

} // namespace

Outcome<std::string> proof_to_html(const std::vector<Proof> &pages)
{
    const Proof &first = pages.front();
    // Nothing may be fetched, whatever a name or a reason holds.
    std::string html =
        "<!DOCTYPE html><html lang=\"en\"><head><meta charset=\"utf-8\"><meta "
        "http-equiv=\"Content-Security-Policy\" content=\"default-src 'none'; img-src data:; style-src "
        "'unsafe-inline'; script-src 'unsafe-inline'\"><meta name=\"viewport\" "
        "content=\"width=device-width\"><title>Proof: " +
        html_of(first.job.name) + "</title><style>" + style +
        "</style></head><body><main><h1>Proof: " + html_of(first.job.name) + "</h1><p class=\"quiet\">" +
        html_of(first.date) + ". SHA-256 of the file as it came: " + first.sha256 + "</p>\n";
    for (const Proof &page : pages) {
        const auto section = section_of(page);
        if (!section) {
            return section.error();
        }
        html += *section;
    }
    return html +
           "<h2>Approval</h2><div class=\"box\"><div><input type=\"checkbox\"> agreed: print as "
           "shown<br><input "
           "type=\"checkbox\"> agreed with changes<br><input type=\"checkbox\"> not agreed: show it "
           "again</div>"
           "<div class=\"sign\"><span>name</span><span>date</span><span>signature</span></div></div></main>"
           "<script>" +
           script + "</script></body></html>\n";
}

} // namespace bichrom
