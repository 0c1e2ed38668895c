/** The smallest change that shows the selection, to take with one press; the others one after the other. */
import { type Offer, withTarget } from '@foreshore/checks';
import { sayOffer } from '@foreshore/words';
import { useEffect, useState } from 'react';
import { useEngine } from '../../questions/engine-context.ts';
import { useOffers } from '../../questions/use-asked.ts';
import { useShown } from '../../state/beside.tsx';
import { hold, release, useLive } from '../../state/live.ts';
import { say } from '../../state/notices.ts';
import { change } from '../../state/project.ts';
import { Offered } from './offered.tsx';

const TAKES: Record<Offer['kind'], string> = { place: 'Go there', turn: 'Go there', setting: 'Apply', state: 'Try it' };

export function WouldShow() {
  const engine = useEngine();
  const document = useShown();
  const offers = useOffers();
  const [at, setAt] = useState(0);
  useEffect(() => setAt(0), [offers]);
  if (offers === null || !document) return null;
  const offer = offers[at % Math.max(1, offers.length)];
  if (!offer) return <p className="offer">No single change would show it.</p>;
  const words = sayOffer(offer, document);
  const take = () => {
    if (offer.kind === 'setting') change(`Would show: ${words}`, (d) => withTarget(d, offer.target));
    else if (offer.kind !== 'state') engine.goTo(offer.pose);
    else if ('phase' in offer.state) useLive.setState({ phase: offer.state.phase });
    else if ('released' in offer.state) release(offer.state.released);
    else {
      hold(offer.state.feed, offer.state.value);
      say(`${words}: held by hand until it is let go in Feeds.`);
    }
  };
  return (
    <Offered
      kind={{ 'data-offer': offer.kind }}
      lead="Would show"
      words={words}
      take={TAKES[offer.kind]}
      onTake={take}
      at={at % offers.length}
      of={offers.length}
      onNext={() => setAt(at + 1)}
    />
  );
}
