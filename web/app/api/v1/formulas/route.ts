import { inputsOf } from '@mesura/core/formulary/formula';
import { formulas } from '@mesura/core/formulary/index';
import { route } from '../../../../server/http';

export const dynamic = 'force-dynamic';
export const GET = route('GET /api/v1/formulas', async () => ({
  formulas: formulas.map((formula) => {
    const { name, title, source, mark, outputs } = formula;
    return { name, title, source, mark, inputs: inputsOf(formula), outputs };
  }),
}));
