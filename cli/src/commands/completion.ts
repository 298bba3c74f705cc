/** `mesura completion`: what a shell needs to complete commands, options and their words. */
import { done, type Call, type Command } from '../command';
import { oneOf, optionTypes, Refusal } from '../options';
import { optionsOf } from '../words';

const shells = ['bash', 'zsh', 'fish'] as const;

/** The index lists this command too; it hands itself over, so that there is no circle. */
export const completionFor = (all: () => readonly Pick<Command, 'name' | 'summary'>[]): Command => ({
  name: 'completion',
  takes: 'bash|zsh|fish',
  summary: 'completion for a shell, to be read by it',
  run({ paths }: Call) {
    if (paths.length !== 1) throw new Refusal(2, 'completion takes one shell: bash, zsh or fish');
    const shell = oneOf('completion', paths[0], shells);
    return done({ bash, zsh, fish }[shell](all()));
  },
});

type Told = readonly Pick<Command, 'name' | 'summary'>[];

/** What a command takes, in the order of the options. */
const optionsFor = (command: string): string[] => {
  const taken = optionsOf(command);
  return Object.keys(optionTypes).filter((name) => taken.includes(name) || name === 'format' || name === 'help');
};
const dashed = (command: string): string =>
  optionsFor(command)
    .map((name) => `--${name}`)
    .join(' ');

const bash = (commands: Told): string => `# eval "$(mesura completion bash)"
_mesura() {
  local word="\${COMP_WORDS[COMP_CWORD]}"
  if [ "$COMP_CWORD" -eq 1 ]; then
    COMPREPLY=($(compgen -W "${commands.map(({ name }) => name).join(' ')}" -- "$word"))
  elif [[ "$word" == --* ]]; then
    local options
    case "\${COMP_WORDS[1]}" in
${commands.map(({ name }) => `      ${name}) options="${dashed(name)}" ;;`).join('\n')}
    esac
    COMPREPLY=($(compgen -W "$options" -- "$word"))
  else
    COMPREPLY=($(compgen -f -- "$word"))
  fi
}
complete -o filenames -F _mesura mesura
`;

const quoted = (text: string): string => text.replaceAll("'", "'\\''");

const zsh = (commands: Told): string => `#compdef mesura
# eval "$(mesura completion zsh)"
_mesura() {
  if (( CURRENT == 2 )); then
    local -a commands=(${commands.map(({ name, summary }) => `'${name}:${quoted(summary.replaceAll(':', ','))}'`).join(' ')})
    _describe command commands
  elif [[ "$PREFIX" == --* ]]; then
    case "$words[2]" in
${commands.map(({ name }) => `      ${name}) compadd -- ${dashed(name)} ;;`).join('\n')}
    esac
  else
    _files
  fi
}
compdef _mesura mesura
`;

const fish = (commands: Told): string =>
  [
    '# mesura completion fish | source',
    ...commands.map(
      ({ name, summary }) => `complete -c mesura -n __fish_use_subcommand -a ${name} -d '${quoted(summary)}'`,
    ),
    ...commands.flatMap(({ name }) =>
      optionsFor(name).map((option) => `complete -c mesura -n '__fish_seen_subcommand_from ${name}' -l ${option}`),
    ),
    '',
  ].join('\n');
