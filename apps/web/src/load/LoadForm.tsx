import { useId } from 'react';
import type { ReactNode } from 'react';
import { ONE_NODE, ONE_POD } from './settings';
import type { LoadSettings } from './settings';

interface FormProps {
  readonly settings: LoadSettings;
  readonly zones: readonly string[];
  readonly clusters: readonly string[];
  readonly onChange: (part: Partial<LoadSettings>) => void;
}

const kinds = [
  ['poisson', 'Poisson'],
  ['steady', 'steady'],
  ['ramp', 'ramp'],
  ['series', 'recorded series'],
] as const;
const methods = ['round robin', 'random', 'least connections', 'weights', 'hash of the client'] as const;

/** The scenario as a short sheet: arrivals, clients, how they are shared, what happens on the way. */
export function LoadForm({ settings, zones, clusters, onChange }: FormProps) {
  const number = (field: keyof LoadSettings, label: string, unit: string) => (
    <Row label={label}>
      {(id) => (
        <>
          <input
            id={id}
            type="number"
            className="input input-xs w-24 text-right"
            value={settings[field]}
            onChange={(event) => onChange({ [field]: event.target.value })}
          />
          <span className="quiet">{unit}</span>
        </>
      )}
    </Row>
  );
  const choice = (field: keyof LoadSettings, label: string, options: readonly (readonly [string, string])[]) => (
    <Row label={label}>
      {(id) => (
        <select
          id={id}
          className="select select-xs w-44 min-w-0"
          value={settings[field]}
          onChange={(event) => onChange({ [field]: event.target.value })}
        >
          {options.map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </select>
      )}
    </Row>
  );
  const { kind, lost, startWith, scaling } = settings;
  return (
    <div className="rule-b grid grid-cols-2 gap-x-5 gap-y-1 px-4 py-2">
      {choice('kind', 'Arrivals', kinds)}
      {choice(
        'method',
        'Balancing',
        methods.map((each) => [each, each] as const),
      )}
      {kind === 'series' ? (
        <Row label="Rates">
          {(id) => (
            <input
              id={id}
              className="input input-xs w-40"
              placeholder="100 400 900 300"
              title="Rates per second, each for an equal part of the time"
              value={settings.series}
              onChange={(event) => onChange({ series: event.target.value })}
            />
          )}
        </Row>
      ) : (
        number('rate', kind === 'ramp' ? 'Rate at start' : 'Rate', '/s')
      )}
      {kind === 'ramp' ? number('toRate', 'Rate at end', '/s') : number('clients', 'Clients', '')}
      {number('seconds', 'Time', 's')}
      {choice('times', 'Service times', [
        ['exponential', 'exponential'],
        ['constant', 'constant'],
      ])}
      {number('timeout', 'Time-out', 'ms')}
      {number('retries', 'Retries', '')}
      {choice('lost', 'Lost', [
        ['', 'nothing'],
        [ONE_POD, ONE_POD],
        [ONE_NODE, 'fullest node'],
        ...(clusters.length > 1 ? clusters.map((name) => [name, `cluster ${name}`] as const) : []),
        ...zones.map((zone) => [zone, `zone ${zone}`] as const),
      ])}
      {lost === '' ? number('seed', 'Seed', '') : number('lostAt', 'Lost at', 's')}
      {number('startWith', 'Pods at start', '%')}
      {Number(startWith) < 100 && scaling === 'none'
        ? number('allAt', 'All pods from', 's')
        : number('detect', 'Detection', 's')}
      {choice('scaling', 'Scaling', [
        ['none', 'none'],
        ['by load', 'by load'],
      ])}
      {scaling === 'by load' && number('scaleTo', 'Target use', '%')}
      {scaling === 'by load' && number('scaleUpTo', 'Pods up to', '%')}
      {scaling === 'by load' && number('scaleStart', 'Pod start', 's')}
      {lost !== '' &&
        choice('lostCalls', 'Lost calls', [
          ['hang', 'hang'],
          ['fail', 'fail at once'],
        ])}
    </div>
  );
}

function Row({ label, children }: { readonly label: string; readonly children: (id: string) => ReactNode }) {
  const id = useId();
  return (
    <div className="flex min-w-0 items-center gap-2">
      <label htmlFor={id} className="quiet w-[6.2rem] shrink-0">
        {label}
      </label>
      {children(id)}
    </div>
  );
}
