#pragma once

// What most tests include, parsed once.

#include <algorithm>
#include <array>
#include <catch2/catch.hpp>
#include <chrono>
#include <cstdint>
#include <filesystem>
#include <fstream>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <set>
#include <sstream>
#include <string>
#include <string_view>
#include <thread>
#include <vector>

#include "arvik/arvik.hpp"
