// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <memory>

namespace rope {
/// An object on the heap, or none, that is copied with its holder. Its address stays when the holder moves.
template <typename T>
class CopiedPtr
{
public:
    CopiedPtr() = default;
    explicit CopiedPtr(T object)
        : m_object(std::make_unique<T>(std::move(object)))
    {
    }
    CopiedPtr(const CopiedPtr& other)
        : m_object(other ? std::make_unique<T>(*other) : nullptr)
    {
    }
    CopiedPtr& operator=(const CopiedPtr& other)
    {
        m_object = other ? std::make_unique<T>(*other) : nullptr;
        return *this;
    }
    CopiedPtr(CopiedPtr&&) noexcept = default;
    CopiedPtr& operator=(CopiedPtr&&) noexcept = default;
    ~CopiedPtr() = default;

    explicit operator bool() const { return m_object != nullptr; }
    [[nodiscard]] T* get() const { return m_object.get(); }
    T* operator->() const { return m_object.get(); }
    T& operator*() const { return *m_object; }
    void reset() { m_object.reset(); }

private:
    std::unique_ptr<T> m_object;
};
}  // namespace rope
