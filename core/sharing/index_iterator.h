#pragma once
#include <cstddef>
#include <iterator>
#include <memory>
#include <type_traits>
#include <utility>

namespace clendo {

/// Goes over a list by its operator[], whether that gives references or values.
template <class List>
class IndexIterator {
public:
    using iterator_category = std::input_iterator_tag;
    using reference = decltype(std::declval<const List&>()[0]);
    using value_type = std::remove_cvref_t<reference>;
    using difference_type = std::ptrdiff_t;
    using pointer = void;
    IndexIterator(const List* list, std::size_t at) : list_(list), at_(at) {}
    reference operator*() const { return (*list_)[at_]; }
    struct Arrow {
        reference item;
        auto operator->() const { return std::addressof(item); }
    };
    Arrow operator->() const { return {**this}; }
    IndexIterator& operator++()
    {
        ++at_;
        return *this;
    }
    IndexIterator operator++(int) { return {list_, at_++}; }
    bool operator==(const IndexIterator& other) const { return at_ == other.at_; }

private:
    const List* list_;
    std::size_t at_;
};

}  // namespace clendo
