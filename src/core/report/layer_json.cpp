#include "core/report/layer_json.h"

#include "core/colour/process_roots.h"
#include "core/job/print_model.h"
#include "core/proof/print_look.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

constexpr int nodes = 33; ///< tones that curves are told at

double short_of(double value)
{
    return std::round(value * 1e5) / 1e5;
}

template <class Values> nlohmann::json list_of(const Values &values)
{
    nlohmann::json list = nlohmann::json::array();
    for (const auto value : values) {
        list.push_back(short_of(static_cast<double>(value)));
    }
    return list;
}

/// What a process ink lets through by tone, as roots: the profile's colours hold the floor already.
nlohmann::json passed_by(int channel, double floor, const ProcessProfile &condition)
{
    nlohmann::json passed = nlohmann::json::array();
    for (int i = 0; i < nodes; ++i) {
        Cmyk cmyk{};
        cmyk[static_cast<std::size_t>(channel)] = static_cast<float>(i) / (nodes - 1);
        Bands roots = condition.roots().at(cmyk);
        for (double &root : roots) {
            root = std::sqrt(std::max(0.0, (root * root - floor) / (1.0 - floor)));
        }
        passed.push_back(list_of(roots));
    }
    return passed;
}

} // namespace

std::string layer_json(const Job &job, const std::vector<std::string> &planes,
                       const ProcessProfile &condition)
{
    const PrintStack stack = stack_of(job, planes, condition);
    const PrintGround ground = print_ground(job.plates, job.stock_here());
    Bands stock = ground.stock;
    for (double &band : stock) {
        band = std::sqrt(band);
    }
    nlohmann::json light = nlohmann::json::array();
    for (const auto &band : band_light()) {
        light.push_back(list_of(band));
    }
    nlohmann::json layers = nlohmann::json::array();
    const auto add = [&](int number) {
        const StackInk &ink = stack.ink(static_cast<std::size_t>(number));
        nlohmann::json layer = {{"plane", ink.plane}};
        if (ink.process >= 0) {
            layer["passed"] = passed_by(ink.process, ground.floor, condition);
        } else {
            nlohmann::json gain = nlohmann::json::array();
            for (int i = 0; i < nodes; ++i) {
                gain.push_back(short_of(ink.gain.at(static_cast<double>(i) / (nodes - 1))));
            }
            layer["gain"] = gain;
            layer["body"] = list_of(ink.film.body);
            layer["through"] = list_of(ink.film.through);
            layer["hits"] = ink.hits;
        }
        layers.push_back(std::move(layer));
    };
    for (const PrintStack::Step &step : stack.steps()) {
        if (step.ink >= 0) {
            add(step.ink);
        }
        for (const int ink : step.run) {
            if (ink >= 0) {
                add(ink);
            }
        }
    }
    return nlohmann::json(
               {{"stock", list_of(stock)}, {"floor", ground.floor}, {"light", light}, {"layers", layers}})
        .dump();
}

} // namespace bichrom
