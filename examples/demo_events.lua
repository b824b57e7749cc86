-- Every event and every sound of the demo script, with its time, from Lua without a compiler: LuaJIT
-- reads the declarations of the C interface as they are.
--
-- Usage: luajit demo_events.lua HEADER LIBRARY SCRIPT [LOCALE]      (HEADER: arvik.ffi.h)
-- With a locale it goes over to that language after ten seconds.

local ffi = require("ffi")
local header, library, path, locale = unpack(arg)

local function read_whole(name)
  local file = assert(io.open(name, "rb"))
  local text = file:read("*a")
  file:close()
  return text
end

ffi.cdef(read_whole(header))
local arvik = ffi.load(library)

-- A struct of the interface, with its size set.
local function struct(name)
  local value = ffi.new(name)
  value.size = ffi.sizeof(value)
  return value
end

local problem_of = struct("arvik_error")
local function checked(result)
  if result == nil or result == 0 then
    io.stderr:write(ffi.string(problem_of.message), "\n")
    os.exit(1)
  end
  return result
end

local script = checked(arvik.arvik_script_load(path, 0, problem_of))
local problem = struct("arvik_problem")
for i = 0, arvik.arvik_script_problems(script) - 1 do
  arvik.arvik_script_problem(script, i, problem)
  io.stderr:write(("%s:%d:%d: %s\n"):format(path, problem.row, problem.column,
                                            ffi.string(problem.message)))
end
if arvik.arvik_script_is_good(script) == 0 then os.exit(1) end

local setter = checked(arvik.arvik_setter_create("en", problem_of))
arvik.arvik_setter_set_value(setter, "keeper", "Pell", 4)
local talk = checked(arvik.arvik_talk_create(setter, script, nil, nil, problem_of))
local settings = struct("arvik_talk_settings")
arvik.arvik_talk_settings_init(settings)
settings.by_itself = 1
arvik.arvik_talk_configure(talk, settings)
checked(arvik.arvik_talk_start(talk, nil, nil, problem_of))

local event, sound = struct("arvik_talk_event"), struct("arvik_sound")
local function number(value) return tostring(value):gsub("LL$", "") .. "" end
local now, closed = 0LL, false
while not closed do
  if locale and now >= 10000000000LL then
    checked(arvik.arvik_talk_set_locale(talk, locale, nil, problem_of))
    locale = nil
  end
  for i = 0, arvik.arvik_talk_tick(talk, 16666667, 0) - 1 do
    arvik.arvik_talk_event_at(talk, i, event)
    local name = ffi.string(event.name)
    print(("%s line %d %s%s"):format(number(event.time_ns), event.line, ffi.string(event.kind_name),
                                     name == "" and "" or " " .. name))
    closed = closed or event.kind == ffi.C.ARVIK_EVENT_CLOSED
  end
  for i = 0, arvik.arvik_talk_sounds(talk) - 1 do
    arvik.arvik_talk_sound(talk, i, sound)
    print(("%s sound %s %s %.4f st %.2f dB"):format(number(now + sound.delay_ns),
          ffi.string(sound.kind_name), ffi.string(sound.name), sound.pitch, sound.gain))
  end
  now = now + 16666667
end
arvik.arvik_talk_destroy(talk)
arvik.arvik_setter_destroy(setter)
arvik.arvik_script_destroy(script)
