import { answered } from '@mesura/core/formulary/formula';
import { formulaNamed } from '@mesura/core/formulary/index';
import { notFound, ServiceError } from '../../../../../server/errors';
import { jsonBody, route } from '../../../../../server/http';

export const POST = route<{ formula: string }>('POST /api/v1/formulas/:formula', async ({ formula: name }, request) => {
  const formula = formulaNamed(name);
  if (!formula) throw notFound('This formula');
  const result = answered(formula, await jsonBody(request));
  if (!result.ok)
    throw new ServiceError(422, 'formula.inputs', result.problems.map(({ message }) => message).join('; '), {
      problems: result.problems,
    });
  const { source, mark } = formula;
  return { name, source, mark, outputs: result.outputs };
});
