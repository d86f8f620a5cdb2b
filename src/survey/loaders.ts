// What makes a survey: it needs the compiler, and loads when it is asked for.
export const loadSurvey = () => import('./survey.js');
