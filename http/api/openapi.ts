import { z } from 'zod';
import { errorSchema } from './respond';
import * as shapes from './schemas';

const json = (schema: z.ZodType) => ({
  'application/json': { schema: z.toJSONSchema(schema, { io: 'output', unrepresentable: 'any' }) },
});
const jsonIn = (schema: z.ZodType) => ({
  required: true,
  content: { 'application/json': { schema: z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' }) } },
});
/** A log as it is: CSV, JSON lines (in UTF-8, UTF-16 or Latin-1, gzipped or not) or XLSX; distinguished by content. */
const logIn = {
  required: true,
  content: { 'text/csv': { schema: { type: 'string' } }, 'application/octet-stream': {} },
};

const query = (schema: z.ZodObject) => {
  const { properties = {}, required = [] } = z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' });
  return Object.entries(properties).map(([name, property]) => ({
    name,
    in: 'query',
    required: required.includes(name),
    schema: property,
  }));
};

const noSuchRun = { description: 'There is no such run', content: json(errorSchema) };
const runId = { name: 'id', in: 'path', required: true, schema: { type: 'integer' } };

const answers = (schema: z.ZodType, status = '200') => ({
  [status]: { description: 'The result', content: json(schema) },
  '400': { description: 'What was wrong with the request', content: json(errorSchema) },
});

/** The description of the API, made from the schemas that validate it. */
export const openApi = (version: string) => ({
  openapi: '3.1.0',
  info: {
    title: 'Bold Ember',
    version,
    description: 'SI units, the unit in each name, times ISO 8601. Computing stores nothing.',
  },
  paths: {
    '/api/v1/health': {
      get: {
        summary: 'Whether the server and its database are there',
        responses: {
          '200': { description: 'Both are', content: json(shapes.healthResponse) },
          '503': { description: 'The database is away', content: json(shapes.healthResponse) },
        },
      },
    },
    '/api/v1/compute/resistance': {
      post: {
        summary: 'Internal resistance from one step of load',
        requestBody: jsonIn(shapes.resistanceRequest),
        responses: answers(shapes.resistanceResponse),
      },
    },
    '/api/v1/compute/discharge': {
      post: {
        summary: 'Capacity from a discharge log',
        parameters: query(shapes.dischargeQuery),
        requestBody: logIn,
        responses: answers(shapes.dischargeResponse),
      },
    },
    '/api/v1/compute/partial-capacity': {
      post: {
        summary: 'Capacity from a part of the charge',
        requestBody: jsonIn(shapes.partialCapacityRequest),
        responses: answers(shapes.partialCapacityResponse),
      },
    },
    '/api/v1/compute/hold': {
      post: {
        summary: 'Which cells and packs keep their charge at rest, and which leak',
        requestBody: jsonIn(shapes.selfDischargeRequest),
        responses: answers(shapes.selfDischargeResponse),
      },
    },
    '/api/v1/compute/diagnose': {
      post: {
        summary: 'What is wrong with a pack, how sure that is, and what to measure next',
        requestBody: jsonIn(shapes.diagnoseRequest),
        responses: answers(shapes.diagnoseResponse),
      },
    },
    '/api/v1/compute/rebalance': {
      post: {
        summary: 'Ways to balance the groups of a pack, simulated for it',
        requestBody: jsonIn(shapes.rebalanceRequest),
        responses: answers(shapes.rebalanceResponse),
      },
    },
    '/api/v1/compute/charger-sheet': {
      post: {
        summary: 'Every setting of a charger for a pack and a goal, or why it is refused',
        requestBody: jsonIn(shapes.chargerSheetRequest),
        responses: answers(shapes.chargerSheetResponse),
      },
    },
    '/api/v1/compute/schedule': {
      post: {
        summary: 'Which job is done at which station and when, and how far that is from the best',
        requestBody: jsonIn(shapes.scheduleRequest),
        responses: answers(shapes.scheduleResponse),
      },
    },
    '/api/v1/compute/ageing': {
      post: {
        summary: 'How a cell or pack ages, and where it crosses 80 and 70 % of as-new',
        requestBody: jsonIn(shapes.ageingRequest),
        responses: answers(shapes.ageingResponse),
      },
    },
    '/api/v1/compute/match': {
      post: {
        summary: 'Cells arranged into even groups',
        requestBody: jsonIn(shapes.matchRequest),
        responses: answers(shapes.matchResponse),
      },
    },
    '/api/v1/compute/pack-run': {
      post: {
        summary: 'How a pack behaves under a load, until its first group is at the cut-off',
        requestBody: jsonIn(shapes.packRunRequest),
        responses: answers(shapes.packRunResponse),
      },
    },
    '/api/v1/runs': {
      post: {
        summary: 'A discharge log, kept with its cell',
        parameters: query(shapes.runQuery),
        requestBody: logIn,
        responses: answers(shapes.runResponse, '201'),
      },
    },
    '/api/v1/runs/{id}': {
      get: {
        summary: 'A run with the conditions it was taken under and what it comes to',
        parameters: [runId],
        responses: { ...answers(shapes.runInFull), '404': noSuchRun },
      },
    },
    '/api/v1/runs/{id}/samples': {
      get: {
        summary: 'The samples of a run: all of them, or a stretch as it can be shown',
        parameters: [runId, ...query(shapes.samplesQuery)],
        responses: {
          '200': {
            description: 'The samples',
            content: {
              ...json(shapes.samplesResponse),
              'text/csv': { schema: { type: 'string' } },
              'application/vnd.apache.parquet': {},
            },
          },
          '404': noSuchRun,
        },
      },
    },
    '/api/v1/runs/{id}/layouts': {
      post: {
        summary: 'The file of a run, read otherwise than before',
        parameters: [runId],
        requestBody: jsonIn(shapes.layoutRequest),
        responses: {
          ...answers(shapes.runResponse, '201'),
          '404': { description: 'There is no such run, or its file was not kept', content: json(errorSchema) },
        },
      },
    },
    '/api/v1/mappings': {
      get: {
        summary: 'How logs of some shapes are read, under names',
        responses: answers(shapes.namedMappingsResponse),
      },
    },
    '/api/v1/runs/{id}/file': {
      get: {
        summary: 'The file that a run came from, byte for byte as it arrived',
        parameters: [runId],
        responses: {
          '200': { description: 'The file', content: { 'application/octet-stream': {} } },
          '404': { description: 'There is no such run, or its file was not kept', content: json(errorSchema) },
        },
      },
    },
    '/api/v1/subjects': {
      get: {
        summary: 'Cells and packs with their readings, verdicts and next steps',
        parameters: query(shapes.subjectsQuery),
        responses: answers(shapes.subjectsResponse),
      },
    },
    '/api/v1/export': {
      get: {
        summary: 'The whole workshop as a Data Package: CSV with its schema, and the files as they arrived',
        responses: {
          '200': { description: 'A zip archive', content: { 'application/zip': {} } },
          '401': { description: 'The workshop is locked: a passphrase or a key is needed', content: json(errorSchema) },
        },
      },
    },
    '/api/v1/plan.ics': {
      get: {
        summary: 'The bench plan as a calendar',
        responses: {
          '200': { description: 'iCalendar (RFC 5545)', content: { 'text/calendar': {} } },
          '401': { description: 'The workshop is locked: a passphrase or a key is needed', content: json(errorSchema) },
        },
      },
    },
    '/api/v1/holds': {
      get: {
        summary: 'Self-discharge tests with what they say of each cell and pack',
        responses: answers(shapes.selfDischargesResponse),
      },
      post: {
        summary: 'Cells and packs tested together',
        requestBody: jsonIn(shapes.newSelfDischargeRequest),
        responses: answers(shapes.newSelfDischargeResponse, '201'),
      },
    },
    '/api/v1/entries': {
      post: {
        summary: 'A reading, in the words of the reading bars',
        requestBody: jsonIn(shapes.entryRequest),
        responses: {
          ...answers(shapes.entryResponse, '201'),
          '409': { description: 'It is asked about: send it again with confirmed', content: json(errorSchema) },
        },
      },
    },
    '/api/v1/events': {
      get: {
        summary: 'What changes in the workshop, as server-sent events: a message now, and one after every change',
        responses: {
          '200': {
            description: 'A stream; the data of each message is JSON',
            content: {
              'text/event-stream': { schema: z.toJSONSchema(shapes.eventMessage, { io: 'output' }) },
            },
          },
          '401': { description: 'The workshop is locked: a passphrase or a key is needed', content: json(errorSchema) },
        },
      },
    },
  },
});
