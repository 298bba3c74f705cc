/** A report computed and written: in the thread. The PDF library is large and loaded when it is first needed. */
import { arcLabel } from '@mesura/core/arc/labels';
import { arcLines, arcTable } from '@mesura/core/arc/table';
import { conditionsOf } from '@mesura/core/model/state';
import type { Element } from '@mesura/core/model/element';
import { find, networkOf, settingsOf } from '@mesura/core/model/network';
import { searchOptions } from '@mesura/core/trials/search';
import { writeXlsx } from '@mesura/core/formats/tables/xlsx';
import { circuitTable } from '@mesura/core/lowVoltage/study';
import { boardsReport } from '@mesura/core/reports/boards';
import { circuitLabels, circuitReport } from '@mesura/core/reports/circuits';
import { earthReport } from '@mesura/core/reports/earthReturn';
import { arcReport } from '@mesura/core/reports/arc';
import { faultReport } from '@mesura/core/reports/faults';
import { packageReport } from '@mesura/core/reports/linePackage';
import { ratingsReport } from '@mesura/core/reports/ratings';
import { searchReport } from '@mesura/core/reports/search';
import { reportSheets } from '@mesura/core/reports/report';
import { FaultEngine } from '@mesura/core/studies/engine';
import { finished } from '@mesura/core/working/steps';
import type { ReportRequest } from '../reports';

export interface ReportJob {
  readonly task: 'report';
  readonly elements: readonly Element[];
  readonly project: string;
  readonly revision: number;
  readonly date: string;
  readonly request: ReportRequest;
}

export type ReportAnswer =
  { readonly ok: true; readonly bytes: Uint8Array } | { readonly ok: false; readonly message: string };

export async function writtenReport({ elements, project, revision, date, request }: ReportJob): Promise<ReportAnswer> {
  const network = networkOf(elements);
  const all = conditionsOf(network);
  const conditions = request.conditions.length > 0 ? all.filter(({ id }) => request.conditions.includes(id)) : all;
  if (conditions.length < new Set(request.conditions).size)
    return { ok: false, message: 'One of the conditions is not in the project any more.' };
  if (request.study === 'charts') {
    const charts = request.charts.map((id) => find(network, 'gradingChart', id));
    if (charts.includes(undefined)) return { ok: false, message: 'One of the charts is not in the project any more.' };
    const { chartsPdf } = await import('../pdf/charts');
    const pages = charts.filter((chart) => chart !== undefined);
    return {
      ok: true,
      bytes: new Uint8Array(await chartsPdf(network, pages, { project, revision, date }, request.drawing)),
    };
  }
  if (request.study === 'drawing') {
    const { drawingPdf } = await import('../pdf/drawing');
    const bytes = await drawingPdf(network, request.page, { project, revision, date });
    return bytes ? { ok: true, bytes: new Uint8Array(bytes) } : { ok: false, message: 'Nothing stands on this page.' };
  }
  if (request.study === 'plot') {
    const { plotPdf } = await import('../pdf/plot');
    const { owner } = settingsOf(network);
    return {
      ok: true,
      bytes: new Uint8Array(await plotPdf(request.title, request.scene, { owner, project, revision, date })),
    };
  }
  const engine = new FaultEngine(network);
  if (request.study === 'arcLabels') {
    const table = finished(
      arcTable(engine.studies, conditions, { compare: false, only: null, maintenance: request.maintenance }),
    );
    const lines = arcLines(network, table);
    const byKey = new Map(lines.map((line) => [line.key, line]));
    const asked = request.places.length > 0 ? request.places.map((key) => byKey.get(key)) : lines;
    if (asked.includes(undefined)) return { ok: false, message: 'One of the places is not in the project any more.' };
    const labels = asked.flatMap((line) => arcLabel(network, line!, request.language, request.maintenance) ?? []);
    if (labels.length === 0) return { ok: false, message: 'Nothing feeds an arc at any of these places.' };
    const { labelsPdf } = await import('../pdf/labels');
    const { owner, mark } = settingsOf(network);
    const issue = { project, revision, date, owner, mark };
    return { ok: true, bytes: new Uint8Array(await labelsPdf(labels, request.layout, request.code, issue)) };
  }
  if (request.study === 'circuitLabels') {
    const { rows } = finished(circuitTable(engine.studies, conditions, request.board));
    if (rows.length === 0) return { ok: false, message: 'This board supplies nothing.' };
    const { circuitLabelsPdf } = await import('../pdf/circuitLabels');
    return {
      ok: true,
      bytes: new Uint8Array(await circuitLabelsPdf(circuitLabels(network, rows), { project, revision, date })),
    };
  }
  const pack = request.study === 'linePackage' ? find(network, 'linePackage', request.package) : null;
  if (pack === undefined) return { ok: false, message: 'The line package is not in the project any more.' };
  const report = finished(
    pack
      ? packageReport(engine.studies, pack, date)
      : request.study === 'faults'
        ? faultReport(engine, { ...request, conditions })
        : request.study === 'search'
          ? searchReport(engine.studies, conditions, searchOptions(network, request))
          : request.study === 'arc'
            ? arcReport(engine.studies, conditions)
            : request.study === 'earthReturn'
              ? earthReport(engine.studies, conditions, request.kind)
              : request.study === 'circuits'
                ? circuitReport(engine.studies, conditions, request.board, request.circuits)
                : request.study === 'boards'
                  ? boardsReport(engine.studies, conditions)
                  : ratingsReport(engine.studies, conditions),
  );
  if (request.format === 'xlsx') return { ok: true, bytes: await writeXlsx(reportSheets(report)) };
  const { reportPdf } = await import('../pdf/report');
  return { ok: true, bytes: new Uint8Array(await reportPdf(report, project, revision, date)) };
}
