import { type WebSocket, WebSocketServer } from 'ws'

// The least that could carry the same messages: whoever sends to a room, the others in it are sent the same bytes.
const rooms = new Map<string, Set<WebSocket>>()
const server = new WebSocketServer({ host: '127.0.0.1', port: 0, perMessageDeflate: false }, () => {
  const address = server.address()
  console.log(`listens on ${typeof address === 'object' && address ? address.port : ''}`)
})
server.on('connection', (socket, request) => {
  const names = new URL(request.url ?? '/', 'http://relay').searchParams.getAll('room')
  for (const name of names) {
    const room = rooms.get(name) ?? new Set()
    rooms.set(name, room.add(socket))
  }
  socket.on('message', (data, isBinary) => {
    for (const name of names)
      for (const other of rooms.get(name) ?? []) if (other !== socket) other.send(data, { binary: isBinary })
  })
})
