/**
 * Hears what others save of an open plan, as server-sent events. Browsers keep few connections to one server: only a page that is seen
 * listens, and hears the newest revision first when it is seen again.
 */
export class LivePlan {
	private source: EventSource | undefined;
	/** Was it ever connected? Then recordings may have gone unheard since. */
	private before = false;

	constructor(
		private readonly planId: string,
		private readonly onRevision: (revision: number) => void,
		private readonly onRecordings: () => void
	) {}

	listen(on: boolean): void {
		if (!on) this.source?.close();
		if (on === (this.source !== undefined)) return;
		this.source = on ? this.open() : undefined;
	}

	private open(): EventSource {
		const source = new EventSource(`/api/plans/${this.planId}/events`);
		source.addEventListener('revision', ({ data }: MessageEvent<string>) => this.onRevision(Number(data)));
		source.addEventListener('recordings', () => this.onRecordings());
		source.addEventListener('open', () => {
			if (this.before) this.onRecordings();
			this.before = true;
		});
		source.addEventListener('error', () => {
			// A refusal, by a server that is starting say, ends the stream for good: it is opened anew.
			if (source.readyState !== EventSource.CLOSED || this.source !== source) return;
			setTimeout(() => {
				if (this.source === source) this.source = this.open();
			}, AGAIN_MS);
		});
		return source;
	}
}

const AGAIN_MS = 2000;
