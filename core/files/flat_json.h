#pragma once
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace clendo {

/// A JSON document as one list of values, for reading many small documents one after another: a parser made for it reads them, and no tree
/// is built and taken down again. Values point into the document and are good until it reads the next one.
class FlatJson {
public:
    class Value;

    /// Whether the text is JSON. Where it is not, root() is null.
    bool read(std::string_view text);
    [[nodiscard]] Value root() const;

private:
    friend class FlatJsonBuilder;
    enum class Kind : std::uint8_t { Null, Flag, Whole, Number, Text, List, Object };
    struct Node {
        Kind kind = Kind::Null;
        std::uint32_t next = 0;   ///< the value after this one and all that it holds
        std::uint32_t count = 0;  ///< of the values right within it
        std::uint32_t keyAt = 0, keyLength = 0, textAt = 0, textLength = 0;
        double number = 0;  ///< of a Flag 1 or 0
    };
    std::vector<Node> nodes_;
    std::string texts_;
};

/// One value of a FlatJson; asked like nlohmann::json. The one without a document is null.
class FlatJson::Value {
public:
    Value() = default;

    [[nodiscard]] bool is_null() const { return kind() == Kind::Null; }
    [[nodiscard]] bool is_boolean() const { return kind() == Kind::Flag; }
    [[nodiscard]] bool is_number() const { return kind() == Kind::Number || kind() == Kind::Whole; }
    [[nodiscard]] bool is_number_integer() const { return kind() == Kind::Whole; }
    [[nodiscard]] bool is_string() const { return kind() == Kind::Text; }
    [[nodiscard]] bool is_array() const { return kind() == Kind::List; }
    [[nodiscard]] bool is_object() const { return kind() == Kind::Object; }

    /// As what it is; of another kind 0, false or empty.
    template <class T>
    [[nodiscard]] T get() const
    {
        if constexpr (std::is_same_v<T, std::string> || std::is_same_v<T, std::string_view>)
            return is_string() ? T(std::string_view(doc_->texts_).substr(node().textAt, node().textLength)) : T();
        else
            return is_number() || is_boolean() ? static_cast<T>(node().number) : T();
    }
    [[nodiscard]] bool operator==(std::string_view text) const { return is_string() && get<std::string_view>() == text; }

    /// Of an object's member: its name.
    [[nodiscard]] std::string_view key() const { return std::string_view(doc_->texts_).substr(node().keyAt, node().keyLength); }
    /// How many values a list or an object holds; 0 of anything else.
    [[nodiscard]] std::size_t size() const { return doc_ ? node().count : 0; }
    /// One of size() values.
    [[nodiscard]] Value operator[](std::size_t i) const
    {
        auto it = begin();
        while (i-- > 0) ++it;
        return *it;
    }
    /// The last member of that name.
    [[nodiscard]] std::optional<Value> find(std::string_view name) const;

    class Iterator {
    public:
        Iterator(const FlatJson* doc, std::uint32_t at) : doc_(doc), at_(at) {}
        Value operator*() const { return {doc_, at_}; }
        Iterator& operator++()
        {
            at_ = doc_->nodes_[at_].next;
            return *this;
        }
        bool operator==(const Iterator& other) const { return at_ == other.at_; }

    private:
        const FlatJson* doc_;
        std::uint32_t at_;
    };
    [[nodiscard]] Iterator begin() const { return {doc_, size() == 0 ? end_() : at_ + 1}; }
    [[nodiscard]] Iterator end() const { return {doc_, end_()}; }

private:
    friend class FlatJson;
    Value(const FlatJson* doc, std::uint32_t at) : doc_(doc), at_(at) {}
    [[nodiscard]] const Node& node() const { return doc_->nodes_[at_]; }
    [[nodiscard]] Kind kind() const { return doc_ ? node().kind : Kind::Null; }
    [[nodiscard]] std::uint32_t end_() const { return doc_ ? node().next : 0; }

    const FlatJson* doc_ = nullptr;
    std::uint32_t at_ = 0;
};

}  // namespace clendo
