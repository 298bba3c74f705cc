/** `mesura completion`: what a shell needs to complete commands, options and their words. */
import { done, type Call, type Command } from '../command';
import { oneOf, optionTypes, Refusal } from '../options';

const shells = ['bash', 'zsh', 'fish'] as const;

/** The index lists this command too; it hands itself over, so that there is no circle. */
export const completionFor = (all: () => readonly Pick<Command, 'name' | 'summary'>[]): Command => ({
  name: 'completion',
  takes: 'bash|zsh|fish',
  summary: 'completion for a shell, to be read by it',
  run({ paths }: Call) {
    if (paths.length !== 1) throw new Refusal(2, 'completion takes one shell: bash, zsh or fish');
    const shell = oneOf('completion', paths[0], shells);
    const commands = all();
    const options = Object.keys(optionTypes).map((name) => `--${name}`);
    return done({ bash, zsh, fish }[shell](commands, options));
  },
});

type Told = readonly Pick<Command, 'name' | 'summary'>[];

const bash = (commands: Told, options: readonly string[]): string => `# eval "$(mesura completion bash)"
_mesura() {
  local word="\${COMP_WORDS[COMP_CWORD]}"
  if [ "$COMP_CWORD" -eq 1 ]; then
    COMPREPLY=($(compgen -W "${commands.map(({ name }) => name).join(' ')}" -- "$word"))
  elif [[ "$word" == --* ]]; then
    COMPREPLY=($(compgen -W "${options.join(' ')}" -- "$word"))
  else
    COMPREPLY=($(compgen -f -- "$word"))
  fi
}
complete -o filenames -F _mesura mesura
`;

const quoted = (text: string): string => text.replaceAll("'", "'\\''");

const zsh = (commands: Told, options: readonly string[]): string => `#compdef mesura
# eval "$(mesura completion zsh)"
_mesura() {
  if (( CURRENT == 2 )); then
    local -a commands=(${commands.map(({ name, summary }) => `'${name}:${quoted(summary.replaceAll(':', ','))}'`).join(' ')})
    _describe command commands
  elif [[ "$PREFIX" == --* ]]; then
    compadd -- ${options.join(' ')}
  else
    _files
  fi
}
compdef _mesura mesura
`;

const fish = (commands: Told, options: readonly string[]): string =>
  [
    '# mesura completion fish | source',
    ...commands.map(
      ({ name, summary }) => `complete -c mesura -n __fish_use_subcommand -a ${name} -d '${quoted(summary)}'`,
    ),
    ...options.map((option) => `complete -c mesura -n 'not __fish_use_subcommand' -l ${option.slice(2)}`),
    '',
  ].join('\n');
