/** What a setting sheet contains, as plain data: the screen, the PDF, the workbook and the frozen revision are made from this alone. */
import type { ArcLabel } from '../arc/labels';
import type { CheckVerdict } from '../checks/check';
import type { PairMargin } from '../grading/margin';
import type { Complex } from '../linear/complex';
import type { Measured } from '../model/chart';
import type { SettingRange } from '../model/deviceFunction';
import type { ElementId } from '../model/fields';
import type { OriginState } from '../proposals/origin';
import type { CurvePoint } from '../protection/curve';
import type { SheetFunction } from '../protection/family';
import type { Report } from '../reports/report';
import type { Verdict } from '../trials/verdict';

export type { SheetFunction };

export interface SheetFault {
  readonly place: string;
  readonly nominalKv: number;
  readonly kind: string;
  /** The condition that decided, by identifier and name. */
  readonly conditionId: ElementId;
  readonly condition: string;
  readonly phaseA: number;
  readonly residualA: number;
  /** Null when the device does not pick up. */
  readonly tripS: number | null;
  readonly by: string | null;
}

export interface SheetMargin {
  readonly chart: string;
  readonly measured: Measured;
  readonly downstream: string;
  readonly upstream: string;
  readonly verdict: PairMargin['verdict'];
  readonly reason: string;
  readonly wantedS: number;
  readonly marginS: number | null;
  readonly atA: number | null;
}

export interface SheetCurve {
  readonly label: string;
  readonly own: boolean;
  readonly points: readonly CurvePoint[];
}

export interface SheetOrigin {
  readonly code: string;
  readonly setting: string;
  readonly value: number | boolean;
  /** In words: by which rules, from which figures; or instead of what, and why. */
  readonly words: string;
}

/** What all sheets of a device have had since form 2. */
export interface DeviceFigures {
  readonly relay: { readonly id: ElementId; readonly name: string; readonly device: string; readonly note: string };
  readonly owner: string;
  readonly frequencyHz: number;
  readonly ct: {
    readonly name: string;
    readonly primaryA: number;
    readonly secondaryA: number;
    readonly accuracy: string;
  } | null;
  readonly nominalKv: number | null;
  readonly trips: readonly string[];
  readonly functions: readonly SheetFunction[];
  readonly notInUse: readonly string[];
  /** Values that were proposed or set against a proposal; sheets of before have none. */
  readonly origins?: readonly SheetOrigin[];
  readonly faults: readonly SheetFault[];
  readonly sensitivities: readonly {
    readonly measured: Measured;
    readonly place: string;
    readonly currentA: number;
    readonly factor: number;
  }[];
  readonly margins: readonly SheetMargin[];
  readonly chart: {
    readonly measured: Measured;
    readonly referenceKv: number;
    readonly curves: readonly SheetCurve[];
  }[];
}

export interface Amount {
  readonly value: number;
  readonly unit: string;
}

/** A rule that asked for a value, with what its formula comes to from the figures of the day; null where that cannot be told. */
export interface SheetRule {
  readonly title: string;
  readonly formula: string;
  readonly unit: string;
  readonly result: number | null;
  /** As spreadsheets take it, figures as "{name}". */
  readonly live: string | null;
  readonly clause: string;
  readonly remembered: boolean;
}

/** A value to be entered into the relay. */
export interface SheetValue {
  readonly functionId: ElementId;
  /** "51"; "21". */
  readonly code: string;
  readonly field: string;
  readonly setting: string;
  /** As the relay takes it; a choice by its identifier, and what it is called. */
  readonly value: number | string;
  readonly shown?: string;
  readonly unit: string;
  readonly primary: Amount | null;
  readonly secondary: Amount | null;
  readonly range: SettingRange | null;
  /** Seldom changed. */
  readonly more: boolean;
  readonly state: OriginState;
  readonly words: string;
  readonly rules: readonly SheetRule[];
  /** What the rules were fed with, as it was on the day of the proposal. */
  readonly figures: readonly {
    readonly name: string;
    readonly value: number;
    readonly unit: string;
    readonly place: string;
  }[];
}

/** What a value is called in comments, read-back and findings. */
export const valueKey = ({ functionId, field }: Pick<SheetValue, 'functionId' | 'field'>): string =>
  `${functionId}.${field}`;

/** What values of a function are multiplied with on their way through its transformers; null where there is none. */
export interface SheetScale {
  readonly functionId: ElementId;
  readonly ct: { readonly primaryA: number; readonly secondaryA: number } | null;
  readonly vt: { readonly primaryKv: number; readonly secondaryV: number } | null;
  /** Base current of a differential function, primary. */
  readonly baseA: number | null;
}

export interface SheetInput {
  readonly name: string;
  readonly type: 'current' | 'voltage' | 'neutral' | 'winding' | 'own';
  readonly primary: Amount | null;
  readonly secondary: Amount | null;
  readonly accuracy: string;
  readonly reversed: boolean;
}

/** A check about the device, as it came out. */
export interface SheetStatement {
  readonly id: string;
  readonly rule: string;
  readonly title: string;
  readonly value: number | null;
  readonly bound: number | null;
  readonly unit: string;
  readonly sense: 'atLeast' | 'atMost';
  readonly verdict: CheckVerdict;
  readonly conditionId: ElementId | null;
  readonly condition: string;
  readonly message: string;
  readonly clause: string;
}

/** A kept trial in which the device takes part. */
export interface SheetTrial {
  readonly id: ElementId;
  readonly name: string;
  readonly verdict: Verdict;
  readonly clearedS: number | null;
  /** What this device does: "51 trips", after so many seconds. */
  readonly events: readonly { readonly atS: number; readonly text: string }[];
}

/** Zones of a distance function in the plane of impedance, in primary ohms, with the line ahead. */
export interface SheetZones {
  readonly code: string;
  readonly loops: 'phase' | 'earth';
  readonly regions: readonly { readonly zone: string; readonly outline: readonly Complex[] }[];
  readonly line: readonly Complex[];
}

/** A differential function in its plane: multiples of the base current. */
export interface SheetPlane {
  readonly code: string;
  readonly limits: { readonly pickup: number; readonly slope1: number; readonly knee: number; readonly slope2: number };
  readonly unrestrained: number | null;
  readonly points: readonly {
    readonly where: 'inside' | 'outside' | 'tapped';
    readonly place: string;
    readonly kind: string;
    readonly operating: number;
    readonly restraining: number;
    readonly trips: boolean;
  }[];
}

/** Form of the content; sheets issued before forms were numbered have none (form 1, see `form1`). */
export const sheetForm = 3;

/** The sheet of a device. */
export interface SheetContent extends DeviceFigures {
  readonly form: typeof sheetForm;
  readonly subject: 'device';
  readonly station: string;
  readonly inputs: readonly SheetInput[];
  /** Time from the trip to the end of the current, in seconds. */
  readonly openingS: number;
  readonly scales: readonly SheetScale[];
  readonly values: readonly SheetValue[];
  readonly statements: readonly SheetStatement[];
  readonly trials: readonly SheetTrial[];
  readonly zones: readonly SheetZones[];
  readonly planes: readonly SheetPlane[];
}

/** A line package or an arc label: a report in the state in which it was signed. */
export interface DocumentContent {
  readonly form: typeof sheetForm;
  readonly subject: 'linePackage' | 'arcLabel';
  readonly id: string;
  readonly name: string;
  readonly station: string;
  readonly owner: string;
  readonly report: Report;
  /** What is to be printed and stuck on. */
  readonly label?: ArcLabel;
}

export type IssuableContent = SheetContent | DocumentContent;

export const subjectKinds = ['device', 'linePackage', 'arcLabel'] as const;
export type SubjectKind = (typeof subjectKinds)[number];

/** What a sheet is about. */
export interface Subject {
  readonly kind: SubjectKind;
  readonly id: string;
}
