# Completion of ashg for bash; the words are those that the program itself knows.
_ashg() {
  local now=${COMP_WORDS[COMP_CWORD]} words
  words=$(ashg completion-words -- "${COMP_WORDS[@]:1:COMP_CWORD-1}" 2>/dev/null)
  mapfile -t COMPREPLY < <(compgen -W "$words" -- "$now")
}
complete -o default -o bashdefault -F _ashg ashg
