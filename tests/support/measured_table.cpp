#include "support/measured_table.h"

#include "core/colour/bands.h"

#include <QFile>
#include <QStringList>

#include <cmath>

namespace bichrom::test {

std::vector<MeasuredPatch> measured_table(const QString &file_name)
{
    QFile file(QStringLiteral(BICHROM_SOURCE_DIR "/tests/data/") + file_name);
    if (!file.open(QIODevice::ReadOnly)) {
        qFatal("%s is missing", qPrintable(file_name));
    }
    std::vector<MeasuredPatch> patches;
    QStringList fields;
    bool in_format = false, in_data = false;
    const QStringList lines = QString::fromLatin1(file.readAll()).split(QLatin1Char('\n'));
    for (const QString &line : lines) {
        const QString text = line.simplified();
        if (text == QStringLiteral("BEGIN_DATA_FORMAT")) {
            in_format = true;
        } else if (text == QStringLiteral("END_DATA_FORMAT")) {
            in_format = false;
        } else if (text == QStringLiteral("BEGIN_DATA")) {
            in_data = true;
        } else if (text == QStringLiteral("END_DATA")) {
            break;
        } else if (in_format) {
            fields += text.split(QLatin1Char(' '));
        } else if (in_data && !text.isEmpty()) {
            const QStringList words = text.split(QLatin1Char(' '));
            const auto value = [&](const char *name) {
                const qsizetype at = fields.indexOf(QString::fromLatin1(name));
                return at < 0 ? std::nan("") : words[at].toDouble();
            };
            MeasuredPatch patch;
            patch.cmyk = {
                static_cast<float>(value("CMYK_C") / 100), static_cast<float>(value("CMYK_M") / 100),
                static_cast<float>(value("CMYK_Y") / 100), static_cast<float>(value("CMYK_K") / 100)};
            patch.lab = {value("LAB_L"), value("LAB_A"), value("LAB_B")};
            if (std::isnan(patch.lab.l)) {
                patch.lab = xyz_to_lab({value("XYZ_X") / 100, value("XYZ_Y") / 100, value("XYZ_Z") / 100});
            }
            patches.push_back(patch);
        }
    }
    return patches;
}

} // namespace bichrom::test
