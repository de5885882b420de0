#include <QAudioFormat>
#include <QAudioSink>
#include <QBuffer>
#include <QMediaDevices>
#include <array>
#include <cmath>
#include <memory>
#include <numbers>
#include <vector>

#include "modules/sounds.h"

namespace clendo {
namespace {

constexpr int rate = 44100;

/// Notes one after the other, each a fading sine with an octave above it: fit rises, work stays, damaged falls and is longer.
QByteArray tune(const std::vector<std::pair<double, double>>& notes)
{
    std::vector<std::int16_t> out;
    for (const auto& [hertz, seconds] : notes) {
        const int n = static_cast<int>(seconds * rate);
        for (int i = 0; i < n; ++i) {
            const double t = double(i) / rate, fade = std::min(1.0, i / 200.0) * std::exp(-3 * t / seconds);
            const double phase = 2 * std::numbers::pi * hertz * t;
            out.push_back(static_cast<std::int16_t>(7000 * fade * (std::sin(phase) + 0.3 * std::sin(2 * phase))));
        }
    }
    return {reinterpret_cast<const char*>(out.data()), static_cast<qsizetype>(out.size() * sizeof(std::int16_t))};
}

const QByteArray& tuneOf(Sound sound)
{
    static const std::array<QByteArray, 3> tunes{tune({{523.3, 0.09}, {784.0, 0.16}}), tune({{392.0, 0.10}, {392.0, 0.14}}),
                                                 tune({{293.7, 0.16}, {220.0, 0.16}, {146.8, 0.32}})};
    return tunes[static_cast<std::size_t>(sound)];
}

void play(Sound sound)
{
    static std::unique_ptr<QAudioSink> sink;
    static QBuffer buffer;
    const QAudioDevice device = QMediaDevices::defaultAudioOutput();
    QAudioFormat format;
    format.setSampleRate(rate);
    format.setChannelCount(1);
    format.setSampleFormat(QAudioFormat::Int16);
    if (device.isNull() || !device.isFormatSupported(format)) return;
    sink = std::make_unique<QAudioSink>(device, format);
    buffer.close();
    buffer.setData(tuneOf(sound));
    buffer.open(QIODevice::ReadOnly);
    sink->start(&buffer);
}

}  // namespace
}  // namespace clendo

extern "C" __attribute__((visibility("default"))) void clendo_sounds(clendo::Sounds* out) { out->play = clendo::play; }
