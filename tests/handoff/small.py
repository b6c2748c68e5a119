# Runs in the debugger: steps generated code on its simulated core, and prints each access to a register.
import json

import gdb

with open('asked.json') as file:
    asked = json.load(file)
log = open('log', 'w')
DATA = 0x800000
STACK_AND_STATE = range(0x5D, 0x60)

for command in ('set confirm off', 'set pagination off', 'target sim', 'load', 'break ask', 'break tell', 'run'):
    gdb.execute(command, to_string=True)
memory = gdb.selected_inferior()


def value(expression):
    return int(gdb.parse_and_eval(expression))


def place(function):
    # The debugger tells addresses of code in words.
    return 2 * value(f'(unsigned long)&{function}')


def load(address):
    return memory.read_memory(DATA + address, 1)[0][0]


def store(address, byte):
    memory.write_memory(DATA + address, bytes([byte]))


def put(variable, number, size):
    # Byte by byte: of more at once the simulated core takes the first alone.
    at = value(f'(unsigned long)&{variable}') & 0xFFFF
    for i, byte in enumerate(number.to_bytes(size, 'little')):
        store(at + i, byte)


def pointer(low):
    return value(f'$r{low}') | value(f'$r{low + 1}') << 8


def access(op, following):
    """What an instruction does to data: ('r', 'w' or 'rw', address), or None."""
    if op & 0xFC0F == 0x9000:
        return 'w' if op & 0x200 else 'r', following
    if op & 0xFC00 == 0x9000:
        way = 'w' if op & 0x200 else 'r'
        low = {0x1: 30, 0x2: 30, 0x9: 28, 0xA: 28, 0xC: 26, 0xD: 26, 0xE: 26}.get(op & 0xF)
        if low is None:
            return None
        return way, pointer(low) - (1 if op & 0xF in (0x2, 0xA, 0xE) else 0)
    if op & 0xD000 == 0x8000:
        offset = op & 0x7 | op >> 7 & 0x18 | op >> 8 & 0x20
        return 'w' if op & 0x200 else 'r', pointer(28 if op & 0x8 else 30) + offset
    if op & 0xF000 == 0xB000:
        return 'w' if op & 0x800 else 'r', 0x20 + (op & 0xF | op >> 5 & 0x30)
    if op & 0xFC00 == 0x9800:
        return 'r' if op & 0x100 else 'rw', 0x20 + (op >> 3 & 0x1F)
    return None


def on_read(address):
    for where, mask, awaited in asked['waits']:
        if where == address:
            store(address, load(address) & ~mask & 0xFF | awaited)
    print(f'r {address:x} 8', file=log)


own = range(place('ask'), place('code_end'))
for which, wish in asked['calls']:
    put('asked_which', which, 2)
    put('asked_wish', wish, 4)
    told = place('tell')
    while True:
        pc = 2 * value('(unsigned long)$pc')
        if pc == told:
            break
        if pc not in own:
            # The compiler's arithmetic reaches no register: on to where it returns to.
            top = value('(unsigned long)$sp') & 0xFFFF
            back = (load(top + 1) << 8 | load(top + 2)) * 2
            gdb.execute(f'tbreak *{back}', to_string=True)
            gdb.execute('continue', to_string=True)
            continue
        code = bytes(memory.read_memory(pc, 4))
        found = access(code[0] | code[1] << 8, code[2] | code[3] << 8)
        if found is None or found[1] >= asked['most'] or found[1] in STACK_AND_STATE or found[1] < 0x20:
            gdb.execute('stepi', to_string=True)
            continue
        way, address = found
        if 'r' in way:
            on_read(address)
        before = load(address)
        gdb.execute('stepi', to_string=True)
        if 'w' in way:
            now = load(address)
            print(f'w {address:x} 8 {now:x}', file=log)
            if address in asked['clears']:
                store(address, before & ~now & 0xFF)
    print('=', value('returned'), file=log)
    gdb.execute('continue', to_string=True)
log.close()
