'use client';

import { Fragment } from 'react';
import type { Working } from '@mesura/core/faults/solution/elementSections';
import type { Part, Quantity, Step } from '@mesura/core/working/trace';
import { useGoToField } from '../desk/findings';
import { formatNumber } from '@mesura/core/fields/quantity';
import bench from './bench.module.css';

const text = ({ value }: Pick<Quantity, 'value'>): string => {
  if (typeof value === 'number')
    return formatNumber(value, 5)
      .replace(/(\.\d*?)0+$/, '$1')
      .replace(/\.$/, '');
  return `(${formatNumber(value.re, 5)} ${value.im < 0 ? '−' : '+'} j${formatNumber(Math.abs(value.im), 5)})`;
};

/** The working, to be followed by hand: symbols, values, clause; a click on an input goes to its field. */
export function WorkingView({ working }: { working: Working }) {
  return (
    <div className={bench.working} role="document" aria-label="Working">
      <strong>{working.title}</strong>
      {working.sections.map((section, k) => (
        <Fragment key={`${section.title}${k}`}>
          <div className={bench.workingSection}>{section.title}</div>
          {section.steps.map((step, j) => (
            <StepLine key={j} step={step} />
          ))}
        </Fragment>
      ))}
      {working.omitted > 0 && (
        <p className={bench.muted}>
          {working.omitted} more elements carry small parts of the current and are left out here.
        </p>
      )}
    </div>
  );
}

/** The formula in symbols helps where the symbols are short; the steps of a reduction name places instead. */
const hasSymbols = (step: Step): boolean =>
  step.expression.length > 1 &&
  step.expression.every((part) => typeof part === 'string' || (part.symbol.length > 0 && part.symbol.length < 12));

const pretty = (text: string): string =>
  text.replaceAll('√(3)', '√3').replaceAll('√(2)', '√2').replaceAll('^2', '²').replaceAll(' - ', ' − ');

function StepLine({ step }: { step: Step }) {
  return (
    <div className={bench.step}>
      <div className={bench.formula}>
        {step.result.symbol} ={' '}
        {hasSymbols(step) && (
          <span className={bench.symbols}>
            {step.expression.map((part) => (typeof part === 'string' ? pretty(part) : part.symbol)).join('')} ={' '}
          </span>
        )}
        {step.expression.map((part, k) =>
          typeof part === 'string' ? <span key={k}>{pretty(part)}</span> : <Value key={k} quantity={part} />,
        )}{' '}
        ={' '}
        <span className={bench.result}>
          {text(step.result)}
          {step.result.unit && `\u2009${step.result.unit}`}
        </span>
      </div>
      <div className={bench.clause}>
        {step.clause}
        {step.clause && step.remark ? ' · ' : ''}
        {step.remark}
      </div>
    </div>
  );
}

function Value({ quantity }: { quantity: Exclude<Part, string> }) {
  const goToField = useGoToField();
  const title = `${quantity.symbol}${quantity.unit ? ` in ${quantity.unit}` : ''}${quantity.assumed ? ': assumed, not typed by anybody' : ''}`;
  if (!quantity.source) return <span title={title}>{text(quantity)}</span>;
  return (
    <button
      type="button"
      className={bench.input}
      data-assumed={quantity.assumed || undefined}
      title={title}
      onClick={() => goToField(quantity.source!.element, quantity.source!.field)}
    >
      {text(quantity)}
    </button>
  );
}
