import { withCompiler } from '../library/with-compiler.js';
import type { Survey, SurveyRequest } from '../survey/index.js';
import { loadSurvey } from '../survey/loaders.js';

/** Says what of an application still uses the old store. Throws {@link SurveyError}. */
export async function survey(request: SurveyRequest): Promise<Survey> {
  const { surveyApplication } = await withCompiler(loadSurvey);
  return surveyApplication(request);
}
