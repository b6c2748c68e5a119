/* Runs generated code for another core in an emulated one, and prints each access to a register. */
#include <elf.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unicorn/unicorn.h>
#include "model.h"

enum { PAGE = 4096, COUNT = sizeof pages / sizeof pages[0] };
static const uint64_t STACK = 0x30000000, RETURN = 0x31000000;
static uint8_t memory[COUNT][PAGE];

static void must(uc_err error, const char *what) {
	if (error == UC_ERR_OK) return;
	fprintf(stderr, "%s: %s\n", what, uc_strerror(error));
	exit(1);
}

static uint32_t load(const uint8_t *at, unsigned size) {
	uint32_t word = 0;
	memcpy(&word, at, size);
	return word;
}

static uint64_t on_read(uc_engine *uc, uint64_t offset, unsigned size, void *user) {
	(void)uc;
	uint8_t *page = user, *at = page + offset;
	unsigned long address = pages[(page - memory[0]) / PAGE] + offset;
	/* What is waited for is there. */
	for (size_t i = 0; i < sizeof waits / sizeof waits[0]; i++) {
		if (waits[i].address != address) continue;
		uint32_t now = (load(at, size) & ~waits[i].mask) | waits[i].value;
		memcpy(at, &now, size);
	}
	printf("r %lx %u\n", address, 8 * size);
	return load(at, size);
}

static void on_write(uc_engine *uc, uint64_t offset, unsigned size, uint64_t value, void *user) {
	(void)uc;
	uint8_t *page = user, *at = page + offset;
	unsigned long address = pages[(page - memory[0]) / PAGE] + offset;
	uint32_t now = (uint32_t)value;
	printf("w %lx %u %lx\n", address, 8 * size, (unsigned long)now);
	for (size_t i = 0; i < sizeof clears / sizeof clears[0]; i++)
		if (clears[i] == address) now = load(at, size) & ~now;
	memcpy(at, &now, size);
}

/* Maps what a program file asks for; where it begins. */
static uint64_t take(uc_engine *uc, const char *name) {
	static uint8_t image[1 << 22];
	FILE *file = fopen(name, "rb");
	if (file == NULL || fread(image, 1, sizeof image, file) == 0) exit(1);
	fclose(file);
	const Elf32_Ehdr *head = (const Elf32_Ehdr *)image;
	const Elf32_Phdr *part = (const Elf32_Phdr *)(image + head->e_phoff);
	must(uc_mem_map(uc, 0x08000000, 1 << 22, UC_PROT_ALL), "program");
	for (int i = 0; i < head->e_phnum; i++)
		if (part[i].p_type == PT_LOAD) must(uc_mem_write(uc, part[i].p_vaddr, image + part[i].p_offset, part[i].p_filesz), "part");
	return head->e_entry;
}

int main(int count, char **args) {
	int is_arm = count > 2 && strcmp(args[2], "arm") == 0;
	uc_engine *uc;
	must(is_arm ? uc_open(UC_ARCH_ARM, UC_MODE_THUMB, &uc) : uc_open(UC_ARCH_RISCV, UC_MODE_RISCV32, &uc), "core");
	uint64_t entry = take(uc, args[1]);
	must(uc_mem_map(uc, STACK - (1 << 16), 1 << 16, UC_PROT_ALL), "stack");
	must(uc_mem_map(uc, RETURN, PAGE, UC_PROT_ALL), "return");
	for (size_t i = 0; i < COUNT; i++)
		must(uc_mmio_map(uc, pages[i], PAGE, on_read, memory[i], on_write, memory[i]), "registers");
	/* Stack, return address, the two arguments; the first is also the result. */
	const int arm[] = {UC_ARM_REG_SP, UC_ARM_REG_LR, UC_ARM_REG_R0, UC_ARM_REG_R1};
	const int risc[] = {UC_RISCV_REG_X2, UC_RISCV_REG_X1, UC_RISCV_REG_X10, UC_RISCV_REG_X11};
	const int *reg = is_arm ? arm : risc;
	unsigned which;
	unsigned long wish;
	while (scanf("%u %lu", &which, &wish) == 2) {
		uint32_t set[] = {(uint32_t)STACK - 64, (uint32_t)RETURN | (is_arm ? 1 : 0), which, (uint32_t)wish};
		for (int i = 0; i < 4; i++) must(uc_reg_write(uc, reg[i], &set[i]), "set");
		must(uc_emu_start(uc, entry, RETURN, 0, 0), "run");
		int32_t returned = 0;
		uc_reg_read(uc, reg[2], &returned);
		printf("= %d\n", returned);
	}
	uc_close(uc);
	return 0;
}
