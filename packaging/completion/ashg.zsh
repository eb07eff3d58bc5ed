#compdef ashg
# Completion of ashg for zsh; the words are those that the program itself knows.
_ashg() {
  local -a known
  known=(${(f)"$(ashg completion-words -- "${(@)words[2,CURRENT-1]}" 2>/dev/null)"})
  (( ${#known} )) && compadd -- $known
  _files
}
_ashg "$@"
