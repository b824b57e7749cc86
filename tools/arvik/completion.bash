# Completes arvik's commands, those of its commands, and their options as --help tells them.
_arvik_commands() {
  "$@" --help 2>/dev/null | sed -n '/^Commands:/,/^[^ C]/s/^  \([a-z]\+\) .*/\1/p'
}
_arvik() {
  local current=${COMP_WORDS[COMP_CWORD]} words at
  local command=("${COMP_WORDS[0]}")
  for ((at = 1; at < COMP_CWORD; ++at)); do
    words=$(_arvik_commands "${command[@]}")
    grep -qx -- "${COMP_WORDS[at]}" <<<"$words" || break
    command+=("${COMP_WORDS[at]}")
  done
  if [[ $current == -* ]]; then
    words=$("${command[@]}" --help 2>/dev/null | grep -o -- '^  -[^ ]*' |
      tr ', ' '\n\n' | grep -- '^-')
  elif [ "$at" -eq "$COMP_CWORD" ]; then
    words=$(_arvik_commands "${command[@]}")
  else
    words=
  fi
  if [ -z "$words" ]; then
    mapfile -t COMPREPLY < <(compgen -f -- "$current")
  else
    mapfile -t COMPREPLY < <(compgen -W "$words" -- "$current")
  fi
}
complete -o filenames -F _arvik arvik
