# Completion of ashg for fish; the words are those that the program itself knows.
function __ashg_words
    set -l before (commandline -opc)
    ashg completion-words -- $before[2..-1] 2>/dev/null
end
complete -c ashg -a '(__ashg_words)'
