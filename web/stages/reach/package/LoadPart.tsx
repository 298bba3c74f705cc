'use client';

import type { ReactNode } from 'react';
import { Table } from '@mantine/core';
import { formatNumber } from '@mesura/core/fields/quantity';
import type { PackageAnswer } from '@mesura/core/linePackage/package';
import { isSameEnd } from '@mesura/core/reach/circuits';
import { loadAngleDeg, loadSource, loadVoltage } from '@mesura/core/reach/loadability';
import { Chip } from '../../../desk/Chip';
import bench from '../../../card/bench.module.css';

/** The proof of loadability: what must be carried, what each zone lets through, yes or no. */
export function LoadPart({ lead, answer: { basis, result } }: { lead: ReactNode; answer: PackageAnswer }) {
  return (
    <>
      <div className={bench.head}>{lead}</div>
      <p className={bench.muted}>
        {loadSource}: load at {loadVoltage} of the nominal voltage and {loadAngleDeg}°. Currents are primary.
      </p>
      {result.loading.map(({ end, required, missing, statements, rates }) => {
        const station = basis.ends.find(({ row }) => isSameEnd(row.end, end))!.row.stationName;
        return (
          <section key={`${end.line}:${end.terminal}`} aria-label={`Loadability at ${station}`}>
            <h3 className={bench.subtitle}>{station}</h3>
            {missing !== '' && <p className={bench.problem}>Not proven: {missing} is not known.</p>}
            {required && (
              <p style={{ margin: '2px 0' }}>
                Required {formatNumber(required.factor, 3)} × {formatNumber(required.ofA, 4)} A ={' '}
                <strong>{formatNumber(required.ampere, 4)} A</strong>
                {required.transferMw !== null && `, of a transfer of ${formatNumber(required.transferMw, 4)} MW`}
                {rates && `; the reach that the line needs rates it at ${formatNumber(rates.ratingA, 4)} A`}
              </p>
            )}
            <Table className={`${bench.table} figures`} aria-label={`Proof at ${station}`} withRowBorders={false}>
              <thead>
                <tr>
                  <th>Statement</th>
                  <th className="number">Carries A</th>
                  <th className="number">Required A</th>
                  <th className="number">Margin %</th>
                  <th>Holds</th>
                </tr>
              </thead>
              <tbody>
                {statements.map(({ id, title, carriesA, requiredA, marginPercent, holds, proof }) => (
                  <tr
                    key={id}
                    title={
                      proof
                        ? `reach ${formatNumber(proof.reachOhm, 4)} Ω at ${loadAngleDeg}°, load ${formatNumber(proof.loadOhm, 4)} Ω`
                        : undefined
                    }
                  >
                    <td>{title}</td>
                    <td className="number">{formatNumber(carriesA, 4)}</td>
                    <td className="number">{formatNumber(requiredA, 4)}</td>
                    <td className="number">{formatNumber(marginPercent, 3)}</td>
                    <td>
                      <Chip state={holds ? 'pass' : 'fail'}>{holds ? 'yes' : 'no'}</Chip>
                    </td>
                  </tr>
                ))}
              </tbody>
            </Table>
          </section>
        );
      })}
    </>
  );
}
