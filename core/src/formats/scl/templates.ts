/** Types that the logical nodes of a written file refer to (IEC 61850-6, DataTypeTemplates): as much as the settings need. */
import type { Xml } from './write';

const figures = { form: 'ASG' } as const;
const whole = { form: 'ING' } as const;
const curve = { form: 'CURVE' } as const;

const objects: Readonly<Record<string, Readonly<Record<string, { readonly form: string }>>>> = {
  PTOC: { StrVal: figures, TmACrv: curve, TmMult: figures, OpDlTmms: whole, DirMod: whole },
  PIOC: { StrVal: figures, OpDlTmms: whole },
  PDIS: {
    PoRch: figures,
    RisPhRch: figures,
    RisGndRch: figures,
    PhDlTmms: whole,
    GndDlTmms: whole,
    DirMod: whole,
    LinAng: figures,
    K0Fact: figures,
    K0FactAng: figures,
  },
  PDIF: { LoSet: figures, HiSet: figures, MinOpTmms: whole },
};

const nodeType = (id: string, own: Readonly<Record<string, { readonly form: string }>>): Xml => [
  'LNodeType',
  { id, lnClass: id },
  [
    ['DO', { name: 'Mod', type: 'ENC_Mod' }],
    ...Object.entries(own).map(([name, { form }]): Xml => ['DO', { name, type: form }]),
  ],
];

const attributeOf = (name: string, bType: string, type?: string): Xml => [
  'DA',
  { name, bType, fc: 'SP', ...(type && { type }) },
];

export const templates: readonly Xml[] = [
  [
    'DataTypeTemplates',
    {},
    [
      nodeType('LLN0', {}),
      nodeType('LPHD', {}),
      nodeType('PTRC', {}),
      ...Object.entries(objects).map(([id, own]) => nodeType(id, own)),
      ['DOType', { id: 'ENC_Mod', cdc: 'ENC' }, [['DA', { name: 'stVal', bType: 'Enum', type: 'Mod', fc: 'ST' }]]],
      [
        'DOType',
        { id: 'ASG', cdc: 'ASG' },
        [
          attributeOf('setMag', 'Struct', 'AnalogueValue'),
          ['DA', { name: 'units', bType: 'Struct', type: 'Unit', fc: 'CF' }],
        ],
      ],
      ['DOType', { id: 'ING', cdc: 'ING' }, [attributeOf('setVal', 'INT32')]],
      ['DOType', { id: 'CURVE', cdc: 'CURVE' }, [attributeOf('setCharact', 'INT32')]],
      ['DAType', { id: 'AnalogueValue' }, [['BDA', { name: 'f', bType: 'FLOAT32' }]]],
      ['DAType', { id: 'Unit' }, [['BDA', { name: 'SIUnit', bType: 'VisString64' }]]],
      [
        'EnumType',
        { id: 'Mod' },
        [
          ['EnumVal', { ord: '1' }, 'on'],
          ['EnumVal', { ord: '5' }, 'off'],
        ],
      ],
    ],
  ],
];
