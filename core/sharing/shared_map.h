#pragma once
#include <algorithm>
#include <cstddef>
#include <iterator>
#include <memory>
#include <utility>
#include <vector>

#include "sharing/edition.h"

namespace clendo {

/// An ordered map of which copies are cheap: they share all that did not change since. One of them changes, in one thread; the others only read, in
/// any. Copying asks for a source that is no constant: it learns that its parts are shared from now on, and copies what it changes next.
template <class Key, class Value>
class SharedMap {
    struct Held {
        Edition edition;
        Value value;
    };
    struct Part {
        Edition edition;
        std::vector<std::pair<Key, std::shared_ptr<Held>>> items;
    };
    static constexpr std::size_t largestPart = 64;

public:
    SharedMap() = default;
    SharedMap(SharedMap& other) : parts_(other.parts_), size_(other.size_) { other.edition_ = Edition::next(); }
    SharedMap(SharedMap&& other) noexcept = default;
    SharedMap& operator=(const SharedMap&) = delete;
    SharedMap& operator=(SharedMap&& other) noexcept = default;
    ~SharedMap() = default;

    /// In the order of the keys; gives pairs of references.
    class Iterator {
    public:
        using iterator_category = std::input_iterator_tag;
        using value_type = std::pair<const Key&, const Value&>;
        using difference_type = std::ptrdiff_t;
        using pointer = void;
        using reference = value_type;
        Iterator(const SharedMap* map, std::size_t part) : map_(map), part_(part) {}
        /// A pair of references, so that it->second works.
        struct Arrow {
            reference pair;
            const reference* operator->() const { return &pair; }
        };
        Arrow operator->() const { return {**this}; }
        reference operator*() const
        {
            const auto& [key, held] = map_->parts_[part_]->items[item_];
            return {key, held->value};
        }
        Iterator& operator++()
        {
            if (++item_ < map_->parts_[part_]->items.size()) return *this;
            item_ = 0;
            ++part_;
            return *this;
        }
        Iterator operator++(int)
        {
            Iterator before = *this;
            ++*this;
            return before;
        }
        bool operator==(const Iterator& other) const { return part_ == other.part_ && item_ == other.item_; }

    private:
        const SharedMap* map_;
        std::size_t part_, item_ = 0;
    };
    [[nodiscard]] Iterator begin() const { return {this, 0}; }
    [[nodiscard]] Iterator end() const { return {this, parts_.size()}; }
    [[nodiscard]] std::size_t size() const { return size_; }
    [[nodiscard]] bool empty() const { return size_ == 0; }

    /// Null: there is none.
    template <class Like>
    [[nodiscard]] const Value* find(const Like& key) const
    {
        if (parts_.empty()) return nullptr;
        const auto& items = parts_[partOf(key)]->items;
        const auto it = placeIn(items, key);
        return it != items.end() && it->first == key ? &it->second->value : nullptr;
    }
    template <class Like>
    [[nodiscard]] bool contains(const Like& key) const
    {
        return find(key) != nullptr;
    }
    /// The value, made where there is none, to be changed. It stays where it is until the map is copied.
    Value& change(const Key& key)
    {
        if (parts_.empty()) parts_.push_back(std::make_shared<Part>(Part{edition_, {}}));
        const std::size_t n = partOf(key);
        auto& part = parts_[n];
        if (part->edition != edition_) part = std::make_shared<Part>(Part{edition_, part->items});
        auto& items = part->items;
        const auto at = placeIn(items, key) - items.begin();
        auto it = items.begin() + at;
        if (it == items.end() || it->first != key) {
            it = items.emplace(it, key, std::make_shared<Held>(Held{edition_, Value()}));
            ++size_;
        } else if (it->second->edition != edition_) {
            it->second = std::make_shared<Held>(Held{edition_, it->second->value});
        }
        Value& out = it->second->value;
        if (items.size() > largestPart) split(n);
        return out;
    }

private:
    template <class Like>
    [[nodiscard]] std::size_t partOf(const Like& key) const
    {
        // whatever comes before all of them belongs to the first
        const auto after =
            std::upper_bound(parts_.begin() + 1, parts_.end(), key, [](const Like& k, const auto& p) { return k < p->items.front().first; });
        return static_cast<std::size_t>(after - parts_.begin()) - 1;
    }
    template <class Items, class Like>
    static auto placeIn(Items& items, const Like& key)
    {
        return std::lower_bound(items.begin(), items.end(), key, [](const auto& item, const Like& k) { return item.first < k; });
    }
    void split(std::size_t n)
    {
        auto& items = parts_[n]->items;
        const auto middle = items.begin() + static_cast<std::ptrdiff_t>(items.size() / 2);
        auto rest = std::make_shared<Part>(Part{edition_, {std::make_move_iterator(middle), std::make_move_iterator(items.end())}});
        items.erase(middle, items.end());
        parts_.insert(parts_.begin() + static_cast<std::ptrdiff_t>(n) + 1, std::move(rest));
    }

    std::vector<std::shared_ptr<Part>> parts_;  ///< none is empty, but for the first of an empty map
    std::size_t size_ = 0;
    Edition edition_ = Edition::next();
};

}  // namespace clendo
