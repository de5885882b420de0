#include "files/flat_json.h"

#include <limits>
#include <nlohmann/json.hpp>

namespace clendo {

/// Takes what the parser comes across and appends it.
class FlatJsonBuilder {
public:
    explicit FlatJsonBuilder(FlatJson& doc) : doc_(doc) {}

    bool null() { return add(FlatJson::Kind::Null, 0); }
    bool boolean(bool value) { return add(FlatJson::Kind::Flag, value ? 1 : 0); }
    bool number_integer(std::int64_t value) { return add(FlatJson::Kind::Whole, double(value)); }
    bool number_unsigned(std::uint64_t value) { return add(FlatJson::Kind::Whole, double(value)); }
    bool number_float(double value, const std::string&) { return add(FlatJson::Kind::Number, value); }
    bool string(const std::string& value)
    {
        add(FlatJson::Kind::Text, 0);
        std::tie(doc_.nodes_.back().textAt, doc_.nodes_.back().textLength) = keep(value);
        return true;
    }
    bool binary(nlohmann::json::binary_t&) { return false; }
    bool key(const std::string& name)
    {
        key_ = keep(name);
        return true;
    }
    bool start_object(std::size_t) { return start(FlatJson::Kind::Object); }
    bool start_array(std::size_t) { return start(FlatJson::Kind::List); }
    bool end_object() { return finish(); }
    bool end_array() { return finish(); }
    bool parse_error(std::size_t, const std::string&, const nlohmann::json::exception&) { return false; }

private:
    using Text = std::pair<std::uint32_t, std::uint32_t>;

    Text keep(const std::string& text)
    {
        const auto at = static_cast<std::uint32_t>(doc_.texts_.size());
        doc_.texts_ += text;
        return {at, static_cast<std::uint32_t>(text.size())};
    }
    bool add(FlatJson::Kind kind, double number)
    {
        if (!open_.empty()) ++doc_.nodes_[open_.back()].count;
        FlatJson::Node node;
        node.kind = kind;
        node.next = static_cast<std::uint32_t>(doc_.nodes_.size()) + 1;
        std::tie(node.keyAt, node.keyLength) = std::exchange(key_, {});
        node.number = number;
        doc_.nodes_.push_back(node);
        return true;
    }
    bool start(FlatJson::Kind kind)
    {
        add(kind, 0);
        open_.push_back(static_cast<std::uint32_t>(doc_.nodes_.size()) - 1);
        return true;
    }
    bool finish()
    {
        doc_.nodes_[open_.back()].next = static_cast<std::uint32_t>(doc_.nodes_.size());
        open_.pop_back();
        return true;
    }

    FlatJson& doc_;
    Text key_{};
    std::vector<std::uint32_t> open_;
};

bool FlatJson::read(std::string_view text)
{
    nodes_.clear();
    texts_.clear();
    // every value takes a byte at least, so places within a text of this size fit their numbers
    if (text.size() > std::numeric_limits<std::uint32_t>::max() / 2) return false;
    FlatJsonBuilder builder(*this);
    if (nlohmann::json::sax_parse(text, &builder)) return true;
    nodes_.clear();
    return false;
}

FlatJson::Value FlatJson::root() const { return nodes_.empty() ? Value() : Value(this, 0); }

std::optional<FlatJson::Value> FlatJson::Value::find(std::string_view name) const
{
    std::optional<Value> found;
    if (is_object())
        for (const Value member : *this)
            if (member.key() == name) found = member;
    return found;
}

}  // namespace clendo
