// The survey of an application's modules: others import nothing of this folder but what stands here.
export { readableFiles } from './readable-files.js';
export {
  SurveyError,
  type PlaceLeft,
  type Survey,
  type SurveyPlace,
  type SurveyRequest,
  type UnknownName,
} from './survey-result.js';
