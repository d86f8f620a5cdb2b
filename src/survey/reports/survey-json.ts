import type { Survey } from '../survey-result.js';

/** What `leeshore survey --json` prints; described by `schema/survey-1.schema.json`. */
export interface SurveyJson extends Survey {
  readonly leeshoreSurvey: 1;
}

/** A survey as JSON data. */
export const surveyToJson = (survey: Survey): SurveyJson => ({ leeshoreSurvey: 1, ...survey });
