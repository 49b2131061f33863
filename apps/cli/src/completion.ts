import type { Command } from 'commander';

/** A script for bash, read by zsh after bashcompinit, that completes commands, their options, the choices of these, and files. */
export function completionOf(program: Command): string {
  const commands = program.commands.filter((each) => each.name() !== 'help');
  const cases = commands.map((command) => {
    const options = command.options.map(({ long }) => long ?? '').join(' ');
    const choices = command.options.flatMap(({ long, argChoices }) =>
      argChoices === undefined ? [] : [`      "${command.name()} ${long ?? ''}") words="${argChoices.join(' ')}" ;;`],
    );
    return { name: command.name(), options, choices };
  });
  return `_wide_lattice() {
  local now="\${COMP_WORDS[COMP_CWORD]}" before="\${COMP_WORDS[COMP_CWORD-1]}" command="\${COMP_WORDS[1]}" words=""
  if [ "$COMP_CWORD" -eq 1 ]; then
    words="${cases.map(({ name }) => name).join(' ')}"
  else
    case "$command $before" in
${cases.flatMap(({ choices }) => choices).join('\n')}
    esac
    if [ -z "$words" ] && [ "\${now#-}" != "$now" ]; then
      case "$command" in
${cases.map(({ name, options }) => `        ${name}) words="${options}" ;;`).join('\n')}
      esac
    fi
  fi
  if [ -n "$words" ]; then COMPREPLY=($(compgen -W "$words" -- "$now")); else COMPREPLY=($(compgen -f -- "$now")); fi
}
complete -F _wide_lattice wide-lattice
`;
}
