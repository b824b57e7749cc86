# Completes arvik's commands, and their options as --help tells them.
_arvik() {
  local current=${COMP_WORDS[COMP_CWORD]} command=${COMP_WORDS[1]} words
  if [ "$COMP_CWORD" -eq 1 ]; then
    words=$("${COMP_WORDS[0]}" --help 2>/dev/null |
      sed -n '/^Commands:/,/^[^ C]/s/^  \([a-z]\+\) .*/\1/p')
  elif [[ $current == -* ]]; then
    words=$("${COMP_WORDS[0]}" "$command" --help 2>/dev/null | grep -o -- '^  -[^ ]*' |
      tr ', ' '\n\n' | grep -- '^-')
  else
    mapfile -t COMPREPLY < <(compgen -f -- "$current")
    return
  fi
  mapfile -t COMPREPLY < <(compgen -W "$words" -- "$current")
}
complete -o filenames -F _arvik arvik
