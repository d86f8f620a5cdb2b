// Logs: read, replayed, and shown as a timeline: others import nothing else of this folder.
export { Grouping, InconsistentLog, type LogPart } from './log/groups.js';
export { isHead, type LoggedState, type LogHead, type LogLine } from './log/log-lines.js';
export { LogMapping, MappingError } from './log/mapping.js';
export { LogError, type NumberedEntry, readLog } from './log/read-log.js';
export { type Moment, Timeline, type TimelineFilter, type TimelineRow } from './log/timeline.js';
export {
  Replay,
  type Replayed,
  type ReplayOptions,
  type ReplayReading,
  type ReplayResult,
} from './replay/replay.js';
export { type PlayedScript, playSideBySide } from './replay/side-by-side.js';
export { replayToJson } from './reports/replay-json.js';
export { replayToJUnit } from './reports/replay-junit.js';
export { replayText } from './reports/replay-text.js';
export { TimelineJsonWriter } from './reports/timeline-json.js';
export { pageBlock, pageHead, pageMark, pageTail } from './reports/timeline-page.js';
export { momentText, timelineAnswer, timelineHead, timelineRow } from './reports/timeline-text.js';
