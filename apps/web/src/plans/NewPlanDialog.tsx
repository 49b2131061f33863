import { starters } from '@wide-lattice/core/starter';
import type { StarterName } from '@wide-lattice/core/starter';
import { useId, useState } from 'react';
import type { ReactNode } from 'react';
import { DialogFoot } from '../shared/DialogFoot';
import { Modal } from '../shared/Modal';
import { Tick } from '../shared/Tick';
import type { NewPlan } from './newPlan';

interface NewPlanDialogProps {
  readonly onClose: () => void;
  /** Starts the plan; gives why it was not, or an empty text. */
  readonly onStart: (plan: NewPlan) => Promise<string>;
}

const starterNames = Object.keys(starters) as StarterName[];

/** A new plan begins with a choice: the ground of a usual kind of place, a list of clusters, the demo as a copy, or nothing. */
export function NewPlanDialog({ onClose, onStart }: NewPlanDialogProps) {
  const nameId = useId();
  const [name, setName] = useState('');
  const [from, setFrom] = useState<NewPlan['from']>('starter');
  const [starter, setStarter] = useState<StarterName>('zonal');
  const [site, setSite] = useState('Main site');
  const [network, setNetwork] = useState('main');
  const [refused, setRefused] = useState('');
  const [isBusy, setBusy] = useState(false);
  const start = async () => {
    setBusy(true);
    setRefused(await onStart({ name: name.trim(), from, starter, site: site.trim(), network: network.trim() }));
    setBusy(false);
  };
  const profile = <Profiles starter={starter} onChoose={setStarter} />;
  const option = { from, onChoose: setFrom };
  return (
    <Modal
      title="New plan"
      description="Everything that is filled in can be changed afterwards."
      onClose={onClose}
      isWide
    >
      <form
        className="flex flex-col gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          void start();
        }}
      >
        <label htmlFor={nameId} className="font-medium">
          Name of the plan
        </label>
        <input
          id={nameId}
          className="input input-sm w-80"
          value={name}
          maxLength={80}
          required
          autoFocus
          autoComplete="off"
          onChange={(event) => setName(event.target.value)}
        />
        <Beginning
          {...option}
          value="starter"
          label="Starter"
          about="A provider profile with machine shapes, one site, one network and address pools. Add clusters next."
        >
          {profile}
          <div className="mt-2 ml-6 flex gap-3">
            <Text label="First site" value={site} onText={setSite} />
            <Text label="First network" value={network} onText={setNetwork} />
          </div>
        </Beginning>
        <Beginning
          {...option}
          value="spreadsheet"
          label="Spreadsheet"
          about="Paste or open a table with cluster, site, network and node count. Sites and networks are created from it."
        >
          {profile}
        </Beginning>
        <Beginning
          {...option}
          value="demo"
          label="Demo copy"
          about="Skerry Line, an invented ferry operator with 48 clusters, to try things out."
        />
        <Beginning {...option} value="empty" label="Empty" about="No profile, site or pool yet." />
        <DialogFoot refused={refused} onLeave={onClose}>
          <button type="submit" className="btn btn-sm btn-primary" disabled={isBusy || name.trim() === ''}>
            {isBusy ? 'Creating...' : 'Create plan'}
          </button>
        </DialogFoot>
      </form>
    </Modal>
  );
}

interface BeginningProps {
  readonly from: NewPlan['from'];
  readonly onChoose: (from: NewPlan['from']) => void;
  readonly value: NewPlan['from'];
  readonly label: string;
  readonly about: string;
  /** What else is asked for when it is chosen. */
  readonly children?: ReactNode;
}

function Beginning({ from, onChoose, value, label, about, children }: BeginningProps) {
  return (
    <div className={`border px-3 py-2 ${from === value ? 'border-primary' : 'border-base-300'}`}>
      <Tick group="from" isOn={from === value} onTick={() => onChoose(value)}>
        <span className="font-medium">{label}</span>
        <span className="quiet block">{about}</span>
      </Tick>
      {from === value && children}
    </div>
  );
}

interface ProfilesProps {
  readonly starter: StarterName;
  readonly onChoose: (starter: StarterName) => void;
}

function Profiles({ starter, onChoose }: ProfilesProps) {
  return (
    <fieldset className="mt-2 ml-6">
      <legend className="font-medium">Provider profile</legend>
      {starterNames.map((each) => (
        <Tick key={each} group="profile" isOn={starter === each} onTick={() => onChoose(each)} className="mt-1">
          {starters[each].label}: <span className="quiet">{starters[each].about}</span>
        </Tick>
      ))}
    </fieldset>
  );
}

interface TextProps {
  readonly label: string;
  readonly value: string;
  readonly onText: (text: string) => void;
}

function Text({ label, value, onText }: TextProps) {
  return (
    <label className="block">
      <span className="block">{label}</span>
      <input
        className="input input-sm w-48"
        value={value}
        maxLength={80}
        required
        onChange={(event) => onText(event.target.value)}
      />
    </label>
  );
}
