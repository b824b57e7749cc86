#include <arvik/arvik.hpp>

arvik::Steps steps_of_other_unit();

int main() { return steps_of_other_unit().size() == 0 ? 0 : 1; }
