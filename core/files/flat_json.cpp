#include "files/flat_json.h"

#include <simdjson.h>

#include <limits>

namespace clendo {

/// Copies what the parser found, one value after another.
class FlatJsonBuilder {
    using Text = std::pair<std::uint32_t, std::uint32_t>;

public:
    explicit FlatJsonBuilder(FlatJson& doc) : doc_(doc) {}

    void add(simdjson::dom::element value, Text key = {})
    {
        using Type = simdjson::dom::element_type;
        using Kind = FlatJson::Kind;
        const std::size_t at = doc_.nodes_.size();
        FlatJson::Node node;
        std::tie(node.keyAt, node.keyLength) = key;
        switch (value.type()) {
            case Type::NULL_VALUE: break;
            case Type::BOOL: node.kind = Kind::Flag, node.number = bool(value) ? 1 : 0; break;
            case Type::INT64: node.kind = Kind::Whole, node.number = double(std::int64_t(value)); break;
            case Type::UINT64: node.kind = Kind::Whole, node.number = double(std::uint64_t(value)); break;
            case Type::DOUBLE: node.kind = Kind::Number, node.number = double(value); break;
            case Type::STRING:
                node.kind = Kind::Text;
                std::tie(node.textAt, node.textLength) = keep(value);
                break;
            case Type::ARRAY: node.kind = Kind::List; break;
            case Type::OBJECT: node.kind = Kind::Object; break;
        }
        doc_.nodes_.push_back(node);
        std::uint32_t count = 0;
        if (node.kind == Kind::List)
            for (const auto item : simdjson::dom::array(value)) add(item), ++count;
        if (node.kind == Kind::Object)
            for (const auto member : simdjson::dom::object(value)) add(member.value, keep(member.key)), ++count;
        doc_.nodes_[at].count = count;
        doc_.nodes_[at].next = static_cast<std::uint32_t>(doc_.nodes_.size());
    }

private:
    Text keep(std::string_view text)
    {
        const auto at = static_cast<std::uint32_t>(doc_.texts_.size());
        doc_.texts_ += text;
        return {at, static_cast<std::uint32_t>(text.size())};
    }

    FlatJson& doc_;
};

bool FlatJson::read(std::string_view text)
{
    nodes_.clear();
    texts_.clear();
    // every value takes a byte at least, so places within a text of this size fit their numbers
    if (text.size() > std::numeric_limits<std::uint32_t>::max() / 2) return false;
    thread_local simdjson::dom::parser parser;
    simdjson::dom::element root;
    if (parser.parse(text.data(), text.size()).get(root) != simdjson::SUCCESS) return false;
    FlatJsonBuilder(*this).add(root);
    return true;
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
