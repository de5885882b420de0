#pragma once
#include <cstddef>
#include <memory>
#include <vector>

#include "sharing/edition.h"
#include "sharing/index_iterator.h"

namespace clendo {

/// A growing list of which copies are cheap, as those of a SharedMap.
template <class T>
class SharedVector {
    static constexpr std::size_t partSize = 256;
    struct Part {
        Edition edition;
        std::vector<T> items;
    };

public:
    SharedVector() = default;
    SharedVector(SharedVector& other) : parts_(other.parts_), size_(other.size_) { other.edition_ = Edition::next(); }
    SharedVector(SharedVector&&) noexcept = default;
    SharedVector& operator=(const SharedVector&) = delete;
    SharedVector& operator=(SharedVector&&) noexcept = default;
    ~SharedVector() = default;

    [[nodiscard]] IndexIterator<SharedVector> begin() const { return {this, 0}; }
    [[nodiscard]] IndexIterator<SharedVector> end() const { return {this, size_}; }
    [[nodiscard]] std::size_t size() const { return size_; }
    [[nodiscard]] bool empty() const { return size_ == 0; }
    const T& operator[](std::size_t i) const { return parts_[i / partSize]->items[i % partSize]; }

    void push_back(T item)
    {
        if (size_ % partSize == 0) {
            parts_.push_back(std::make_shared<Part>(Part{edition_, {}}));
            parts_.back()->items.reserve(partSize);
        }
        own(size_ / partSize).items.push_back(std::move(item));
        ++size_;
    }
    /// One of them, to be changed.
    T& change(std::size_t i) { return own(i / partSize).items[i % partSize]; }

private:
    Part& own(std::size_t n)
    {
        auto& part = parts_[n];
        if (part->edition != edition_) {
            auto copy = std::make_shared<Part>(Part{edition_, {}});
            copy->items.reserve(partSize);
            copy->items = part->items;
            part = std::move(copy);
        }
        return *part;
    }

    std::vector<std::shared_ptr<Part>> parts_;
    std::size_t size_ = 0;
    Edition edition_ = Edition::next();
};

}  // namespace clendo
