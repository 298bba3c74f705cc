'use client';

import { useId, useRef, useState } from 'react';
import { Combobox, TextInput, useCombobox } from '@mantine/core';
import { formulaFunctions, type FormulaProblem, type Name } from '@mesura/core/formulas/formula';
import bench from '../../card/bench.module.css';
import classes from './settings.module.css';

interface Props {
  label: string;
  value: string;
  names: readonly Name[];
  problem: FormulaProblem | null;
  /** What it comes to on the example. */
  result: string | null;
  readOnly: boolean;
  onChange: (value: string) => void;
}

/** The word that the caret stands in or behind. */
function wordAt(text: string, caret: number): { from: number; word: string } {
  const word = /[A-Za-z]\w*$/.exec(text.slice(0, caret))?.[0] ?? '';
  return { from: caret - word.length, word };
}

/** A formula: names are completed while it is typed, what is wrong is told at its place, what it comes to stands below. */
export function FormulaField({ label, value, names, problem, result, readOnly, onChange }: Props) {
  const input = useRef<HTMLInputElement>(null);
  const [caret, setCaret] = useState(0);
  const combobox = useCombobox({ onDropdownClose: () => combobox.resetSelectedOption() });
  const told = useId();
  const { from, word } = wordAt(value, caret);
  const all = [
    ...names.map(({ name, title, unit }) => ({ name, help: unit ? `${title}, ${unit}` : title })),
    ...formulaFunctions.map(({ name, help }) => ({ name: `${name}(`, help })),
  ];
  const options =
    word === '' ? [] : all.filter(({ name }) => name.toLowerCase().startsWith(word.toLowerCase()) && name !== word);
  const complete = (name: string) => {
    const next = value.slice(0, from) + name + value.slice(caret);
    onChange(next);
    combobox.closeDropdown();
    const at = from + name.length;
    setCaret(at);
    requestAnimationFrame(() => input.current?.setSelectionRange(at, at));
  };
  return (
    <div className={classes.formula}>
      <Combobox store={combobox} onOptionSubmit={complete} withinPortal>
        <Combobox.Target>
          <TextInput
            ref={input}
            size="xs"
            label={label}
            value={value}
            readOnly={readOnly}
            error={problem !== null}
            aria-describedby={told}
            spellCheck={false}
            onChange={(event) => {
              setCaret(event.currentTarget.selectionStart ?? event.currentTarget.value.length);
              onChange(event.currentTarget.value);
              combobox.openDropdown();
              combobox.selectFirstOption();
            }}
            onSelect={(event) => setCaret(event.currentTarget.selectionStart ?? 0)}
            onBlur={() => combobox.closeDropdown()}
          />
        </Combobox.Target>
        <Combobox.Dropdown hidden={readOnly || options.length === 0}>
          <Combobox.Options>
            {options.slice(0, 8).map(({ name, help }) => (
              <Combobox.Option key={name} value={name}>
                <span className="figure">{name}</span> <span className={bench.muted}>{help}</span>
              </Combobox.Option>
            ))}
          </Combobox.Options>
        </Combobox.Dropdown>
      </Combobox>
      <div id={told}>
        {problem ? (
          <p className={classes.wrong} role="alert">
            {value.slice(0, problem.from)}
            <mark>{value.slice(problem.from, problem.to) || ' '}</mark>
            {value.slice(problem.to)}
            {'\n'}
            {problem.message}
          </p>
        ) : (
          result !== null && <p className={bench.muted}>= {result}</p>
        )}
      </div>
    </div>
  );
}
