/** A passing word at the window's edge, with something to do about it. */
export interface Notice {
	id: number;
	text: string;
	fault: boolean;
	action?: { label: string; run: () => void };
}

const STAYS_MS = 9000;

class Notices {
	list = $state.raw<Notice[]>([]);
	private next = 1;

	say(text: string, action?: Notice['action']): void {
		this.add({ id: this.next++, text, fault: false, ...(action && { action }) });
	}

	fault(text: string): void {
		this.add({ id: this.next++, text, fault: true });
	}

	close(id: number): void {
		this.list = this.list.filter((notice) => notice.id !== id);
	}

	private add(notice: Notice): void {
		this.list = [...this.list.slice(-3), notice];
		setTimeout(() => this.close(notice.id), STAYS_MS);
	}
}

export const notices = new Notices();
