/* Watches every volatile access of generated code: the sanitiser's hooks, without its library. A hook comes before its access. */
#define _GNU_SOURCE
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/mman.h>
#include "model.h"
#include "calls.h"

static volatile void *last;
static int last_bits;
/* What was there before it, where ones clear. */
static uint32_t before;

static uint32_t load(const volatile void *place, int bits) {
	return bits == 8 ? *(const volatile uint8_t *)place : bits == 16 ? *(const volatile uint16_t *)place : *(const volatile uint32_t *)place;
}

static void finish(void) {
	if (last == NULL) return;
	printf("w %lx %d %lx\n", (unsigned long)((uintptr_t)last - NV_SHIFT), last_bits, (unsigned long)load(last, last_bits));
	for (size_t i = 0; i < sizeof clears / sizeof clears[0]; i++) {
		if (clears[i] != (unsigned long)((uintptr_t)last - NV_SHIFT)) continue;
		uint32_t now = before & ~load(last, last_bits);
		memcpy((void *)(uintptr_t)last, &now, (size_t)last_bits / 8);
	}
	last = NULL;
}

static void on_read(void *place, int bits) {
	finish();
	unsigned long address = (unsigned long)((uintptr_t)place - NV_SHIFT);
	/* What is waited for is there. */
	for (size_t i = 0; i < sizeof waits / sizeof waits[0]; i++) {
		if (waits[i].address != address) continue;
		uint32_t now = (load(place, bits) & ~waits[i].mask) | waits[i].value;
		memcpy(place, &now, (size_t)bits / 8);
	}
	printf("r %lx %d\n", address, bits);
}

static void on_write(void *place, int bits) {
	finish();
	last = place;
	last_bits = bits;
	before = load(place, bits);
}

#define HOOKS(n) \
	void __tsan_volatile_read##n(void *p); \
	void __tsan_volatile_write##n(void *p); \
	void __tsan_read##n(void *p); \
	void __tsan_write##n(void *p); \
	void __tsan_volatile_read##n(void *p) { on_read(p, 8 * n); } \
	void __tsan_volatile_write##n(void *p) { on_write(p, 8 * n); } \
	void __tsan_read##n(void *p) { (void)p; } \
	void __tsan_write##n(void *p) { (void)p; }
HOOKS(1)
HOOKS(2)
HOOKS(4)
HOOKS(8)
void __tsan_init(void);
void __tsan_func_entry(void *p);
void __tsan_func_exit(void);
void __tsan_init(void) {}
void __tsan_func_entry(void *p) { (void)p; }
void __tsan_func_exit(void) {}

int main(void) {
	for (size_t i = 0; i < sizeof pages / sizeof pages[0]; i++) {
		void *at = (void *)(pages[i] + NV_SHIFT);
		if (mmap(at, 4096, PROT_READ | PROT_WRITE, MAP_PRIVATE | MAP_ANONYMOUS | MAP_FIXED_NOREPLACE, -1, 0) != at) return 1;
	}
	unsigned which;
	unsigned long wish;
	while (scanf("%u %lu", &which, &wish) == 2) {
		int returned = call(which, (uint32_t)wish);
		finish();
		printf("= %d\n", returned);
	}
	return 0;
}
