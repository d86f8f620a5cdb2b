// The survey of an application's modules: others import nothing else of this folder.
export { readableFiles } from './readable-files.js';
export { surveyToJson } from './reports/survey-json.js';
export { surveyToSarif } from './reports/survey-sarif.js';
export { surveyText } from './reports/survey-text.js';
export { type Survey, SurveyError, type SurveyRequest } from './survey-result.js';
