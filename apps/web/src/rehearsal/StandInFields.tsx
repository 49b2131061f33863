import { LIMITS, USUAL_HEALTH_SECONDS, USUAL_MINUTES, vantageNames } from '@wide-lattice/standins/choices';
import type { StandInWish } from '@wide-lattice/standins/choices';
import { formatNumber } from '@wide-lattice/core/working';
import { Play } from 'lucide-react';
import { useId, useState } from 'react';
import { usePlan } from '../plan/PlanContext';
import { Part } from '../shared/Halves';
import { ChosenOfMany } from './ChosenOfMany';

interface StandInFieldsProps {
  readonly isStarting: boolean;
  readonly onStart: (wish: StandInWish) => void;
}

/** Which stand-ins to start, at which ports and for how long. */
export function StandInFields({ isStarting, onStart }: StandInFieldsProps) {
  const { plan } = usePlan();
  const vantages = vantageNames(plan);
  const clusters = plan.clusters.map(({ id, name }) => ({ key: id, label: name }));
  const from = useChosen(() => ['internet']);
  const apis = useChosen(() => firstWithWorkloads(plan));
  const { fields, limits, problem } = useLimits();
  return (
    <Part title="Stand-ins">
      <p>
        Name servers, load balancers with their pods, and cluster APIs of this plan answer stock clients at ports of
        127.0.0.1, each as the question bar would. They follow the plan while it is edited.
      </p>
      <form
        className="mt-3 flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          onStart({ vantages: from.chosen, clusters: apis.chosen, ...limits });
        }}
      >
        <ChosenOfMany
          label="Vantages"
          help="Where clients stand: names are answered and load balancers reached as from there."
          all={vantages}
          {...from}
        />
        <ChosenOfMany
          label="Cluster APIs"
          help="Reads of the Kubernetes API: discovery, lists, watches, tables."
          all={clusters}
          {...apis}
        />
        {fields}
        {problem !== '' && (
          <p role="alert" className="text-error">
            {problem}
          </p>
        )}
        <div>
          <button
            type="submit"
            className="btn btn-sm btn-primary"
            disabled={isStarting || problem !== '' || from.chosen.length + apis.chosen.length === 0}
          >
            <Play size={14} aria-hidden />
            {isStarting ? 'Starting...' : 'Start'}
          </button>
        </div>
      </form>
    </Part>
  );
}

/** Some of many as they are chosen, for a field of them. */
function useChosen(first: () => readonly string[]) {
  const [chosen, setChosen] = useState(first);
  return {
    chosen,
    onAdd: (key: string) => {
      setChosen((before) => [...before, key]);
    },
    onRemove: (key: string) => {
      setChosen((before) => before.filter((each) => each !== key));
    },
  };
}

/** First port, minutes and seconds as they are typed, with what is wrong with them. */
function useLimits() {
  const [firstPort, setFirstPort] = useState('');
  const [minutes, setMinutes] = useState(String(USUAL_MINUTES));
  const [seconds, setSeconds] = useState(String(USUAL_HEALTH_SECONDS));
  const port = wholeIn(firstPort, 1024, 65_535);
  const time = wholeIn(minutes, 1, LIMITS.minutes);
  const healthSeconds = wholeIn(seconds, 0, LIMITS.healthSeconds);
  const problem =
    firstPort !== '' && port === undefined
      ? `“${firstPort}” is not a valid port. Enter 1,024 to 65,535, or leave it empty.`
      : time === undefined
        ? `“${minutes}” is not a valid number of minutes. Enter 1 to ${formatNumber(LIMITS.minutes)}.`
        : healthSeconds === undefined
          ? `“${seconds}” is not a valid number of seconds. Enter 0 to ${formatNumber(LIMITS.healthSeconds)}.`
          : '';
  const fields = (
    <div className="flex flex-wrap gap-4">
      <NumberField label="First port" help="Empty for the first free ports." value={firstPort} onType={setFirstPort} />
      <NumberField label="Minutes" help="Until they stop by themselves." value={minutes} onType={setMinutes} />
      <NumberField
        label="Health checks"
        help="Seconds until they find a stopped member."
        value={seconds}
        onType={setSeconds}
      />
    </div>
  );
  return { fields, limits: { firstPort: port, minutes: time, healthSeconds }, problem };
}

function firstWithWorkloads({ clusters, workloads }: ReturnType<typeof usePlan>['plan']): string[] {
  const first = clusters.find(({ id }) => workloads.some(({ clusterId }) => clusterId === id));
  return first === undefined ? [] : [first.id];
}

function wholeIn(text: string, least: number, most: number): number | undefined {
  const value = /^\d{1,6}$/.test(text.trim()) ? Number(text) : NaN;
  return value >= least && value <= most ? value : undefined;
}

interface NumberFieldProps {
  readonly label: string;
  readonly help: string;
  readonly value: string;
  readonly onType: (text: string) => void;
}

function NumberField({ label, help, value, onType }: NumberFieldProps) {
  const id = useId();
  return (
    <div>
      <label htmlFor={id} className="font-semibold">
        {label}
      </label>
      <input
        id={id}
        inputMode="numeric"
        className="input input-sm block w-28"
        aria-describedby={`${id} help`}
        value={value}
        onChange={(event) => {
          onType(event.target.value);
        }}
      />
      <p id={`${id} help`} className="quiet text-xs">
        {help}
      </p>
    </div>
  );
}
