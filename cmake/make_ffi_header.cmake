# cmake -DFROM=arvik.h -DTO=arvik.ffi.h -P make_ffi_header.cmake: the declarations of the C interface
# without comments, macros and preprocessor, as foreign-function readers (LuaJIT's ffi.cdef, cffi)
# take them.
file(READ ${FROM} text)
string(REGEX REPLACE "/\\*([^*]|\\*+[^*/])*\\*+/" "" text "${text}")
string(REGEX REPLACE "(^|\n)#([^\n]*\\\\\n)*[^\n]*" "\\1" text "${text}")
string(REPLACE "extern \"C\" {" "" text "${text}")
string(REGEX REPLACE "\n}\n" "\n" text "${text}")
string(REPLACE "ARVIK_C_API " "" text "${text}")
string(REGEX REPLACE "[ \t]+\n" "\n" text "${text}")
string(REGEX REPLACE "\n\n+" "\n\n" text "${text}")
string(STRIP "${text}" text)
file(WRITE ${TO} "${text}\n")
