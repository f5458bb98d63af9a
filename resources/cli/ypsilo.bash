# bash completion for ypsilo
_ypsilo() {
  local word=${COMP_WORDS[COMP_CWORD]} names="drive scale positioning square limits homing plate corner edge circle setter tram first-cut part periodic correction z-square pointer marks focus threshold drag-knife turned-knife kerf fence ticks"
  case "${COMP_WORDS[1]:-}:$COMP_CWORD" in
    *:1) COMPREPLY=($(compgen -W "calc check controller coupon drawing rehearse book help --version --help" -- "$word")) ;;
    calc:2 | help:2) COMPREPLY=($(compgen -W "$names" -- "$word")) ;;
    calc:3) COMPREPLY=($(compgen -W "--in" -- "$word")) ;;
    coupon:2) COMPREPLY=($(compgen -W "frame depths square circle lines heads" -- "$word")) ;;
    rehearse:*) COMPREPLY=($(compgen -W "--scenario --book --by-part --json" -- "$word") $(compgen -f -- "$word")) ;;
    drawing:*) COMPREPLY=($(compgen -W "--book --acts --unit-mm --json -o" -- "$word") $(compgen -f -- "$word")) ;;
    check:3) COMPREPLY=($(compgen -W "--book --json" -- "$word")) ;;
    book:2) COMPREPLY=($(compgen -W "check new schema" -- "$word")) ;;
    controller:2) COMPREPLY=($(compgen -W "check schema" -- "$word")) ;;
    *) COMPREPLY=($(compgen -f -- "$word")) ;;
  esac
}
complete -F _ypsilo ypsilo
