// Reads the tide gauge and prints the water level in centimetres.
#include <iostream>
#include <numeric>
#include <vector>

constexpr int kSamples = 8;

int main()
{
    std::vector<int> levels;
    for (int level = 0; levels.size() < kSamples && std::cin >> level;) {
        levels.push_back(level);
    }
    if (levels.empty()) {
        return 1;
    }
    std::cout << std::accumulate(levels.begin(), levels.end(), 0) / static_cast<int>(levels.size())
              << '\n';
}
