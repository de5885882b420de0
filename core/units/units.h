#pragma once
#include <cmath>
#include <compare>
#include <concepts>
#include <optional>

namespace clendo {

/// A number that carries its unit in its type. Same units add and compare; a plain number scales.
/// Different units do not mix, and there is no silent way back to a double: say `.value()`.
template <class Tag>
class Quantity {
public:
    constexpr Quantity() = default;
    constexpr explicit Quantity(double value) : value_(value) {}
    [[nodiscard]] constexpr double value() const { return value_; }
    constexpr auto operator<=>(const Quantity&) const = default;

    friend constexpr Quantity operator+(Quantity a, Quantity b) { return Quantity(a.value_ + b.value_); }
    friend constexpr Quantity operator-(Quantity a, Quantity b) { return Quantity(a.value_ - b.value_); }
    friend constexpr Quantity operator-(Quantity a) { return Quantity(-a.value_); }
    friend constexpr Quantity operator*(Quantity a, double factor) { return Quantity(a.value_ * factor); }
    friend constexpr Quantity operator*(double factor, Quantity a) { return a * factor; }
    friend constexpr Quantity operator/(Quantity a, double divisor) { return Quantity(a.value_ / divisor); }
    friend constexpr double operator/(Quantity a, Quantity b) { return a.value_ / b.value_; }
    constexpr Quantity& operator+=(Quantity other)
    {
        value_ += other.value_;
        return *this;
    }

private:
    double value_ = 0.0;
};

using Decibel = Quantity<struct DecibelTag>;  ///< a ratio: loss, reflectance, return loss
using DecibelPerKilometre = Quantity<struct DecibelPerKilometreTag>;
using Metre = Quantity<struct MetreTag>;            ///< along a fibre
using Micrometre = Quantity<struct MicrometreTag>;  ///< on an end face
using Nanometre = Quantity<struct NanometreTag>;    ///< a wavelength
using Nanosecond = Quantity<struct NanosecondTag>;  ///< a pulse width
using Pixel = Quantity<struct PixelTag>;
using Second = Quantity<struct SecondTag>;

/// A power referred to 1 mW. The difference of two is a Decibel; two have no sum.
class DecibelMilliwatt {
public:
    constexpr DecibelMilliwatt() = default;
    constexpr explicit DecibelMilliwatt(double value) : value_(value) {}
    [[nodiscard]] constexpr double value() const { return value_; }
    constexpr auto operator<=>(const DecibelMilliwatt&) const = default;
    friend constexpr Decibel operator-(DecibelMilliwatt a, DecibelMilliwatt b) { return Decibel(a.value_ - b.value_); }
    friend constexpr DecibelMilliwatt operator-(DecibelMilliwatt p, Decibel loss) { return DecibelMilliwatt(p.value_ - loss.value()); }
    friend constexpr DecibelMilliwatt operator+(DecibelMilliwatt p, Decibel gain) { return DecibelMilliwatt(p.value_ + gain.value()); }

private:
    double value_ = 0.0;
};

/// Attenuation over a length of fibre.
constexpr Decibel operator*(DecibelPerKilometre alpha, Metre length) { return Decibel(alpha.value() * length.value() / 1000.0); }
constexpr Decibel operator*(Metre length, DecibelPerKilometre alpha) { return alpha * length; }

/// What one pixel of a picture measures on the face. Only this turns pixels into micrometres.
class Scale {
public:
    constexpr Scale() = default;
    constexpr explicit Scale(double micrometresPerPixel) : value_(micrometresPerPixel) {}
    [[nodiscard]] constexpr double micrometresPerPixel() const { return value_; }
    friend constexpr Micrometre operator*(Pixel p, Scale s) { return Micrometre(p.value() * s.value_); }
    friend constexpr Pixel operator/(Micrometre m, Scale s) { return Pixel(m.value() / s.value_); }

private:
    double value_ = 1.0;
};

/// A place on a face: origin at the fibre's centre, x to the right, y downwards.
struct FacePoint {
    Micrometre x, y;
    [[nodiscard]] Micrometre radius() const { return Micrometre(std::hypot(x.value(), y.value())); }
};

/// A place in a picture: the centre of the top left pixel is (0, 0), y downwards.
struct PicturePoint {
    Pixel x, y;
};

template <class A, class B>
concept Addable = requires(A a, B b)
{
    a + b;
};

static_assert(!Addable<DecibelMilliwatt, DecibelMilliwatt>, "two power levels have no sum");
static_assert(!Addable<Micrometre, Pixel>, "only a scale turns pixels into micrometres");
static_assert(!Addable<Decibel, double>, "a bare number is not a loss");

}  // namespace clendo
