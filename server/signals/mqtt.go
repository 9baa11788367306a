package signals

import (
	"bytes"
	"context"
	"encoding/json"
	"log/slog"
	"net"
	"strings"
	"sync"

	mqtt "github.com/mochi-mqtt/server/v2"
	"github.com/mochi-mqtt/server/v2/listeners"
	"github.com/mochi-mqtt/server/v2/packets"
)

// Topic is where machines publish over MQTT: iter/MACHINE/POINT, with a value or {"value":…,"unit":…,"at":…} as JSON.
const Topic = "iter/"

// Broker takes signals over MQTT 3.1.1 and 5. Whoever connects gives a source's key as the password; nobody reads anything.
type Broker struct {
	mqtt.HookBase
	taker  *Taker
	server *mqtt.Server
	mu     sync.Mutex
	keys   map[string]string // by client
}

// Listen has a broker take signals at a listener until it is closed.
func Listen(t *Taker, l net.Listener, log *slog.Logger) (*Broker, error) {
	b := &Broker{taker: t, keys: map[string]string{}}
	b.server = mqtt.New(&mqtt.Options{Logger: log})
	if err := b.server.AddHook(b, nil); err != nil {
		return nil, err
	}
	if err := b.server.AddListener(listeners.NewNet("signals", l)); err != nil {
		return nil, err
	}
	return b, b.server.Serve()
}

// Close ends it.
func (b *Broker) Close() error { return b.server.Close() }

// ID names the hook.
func (b *Broker) ID() string { return "signals" }

// Provides says what the hook is asked.
func (b *Broker) Provides(what byte) bool {
	return bytes.Contains([]byte{mqtt.OnConnectAuthenticate, mqtt.OnACLCheck, mqtt.OnPublish, mqtt.OnDisconnect}, []byte{what})
}

// OnConnectAuthenticate lets sources in, by their keys.
func (b *Broker) OnConnectAuthenticate(cl *mqtt.Client, pk packets.Packet) bool {
	key := string(pk.Connect.Password)
	if _, ok, err := b.taker.Source(context.Background(), key); err != nil || !ok {
		return false
	}
	b.mu.Lock()
	defer b.mu.Unlock()
	b.keys[cl.ID] = key
	return true
}

// OnDisconnect forgets a source.
func (b *Broker) OnDisconnect(cl *mqtt.Client, _ error, _ bool) {
	b.mu.Lock()
	defer b.mu.Unlock()
	delete(b.keys, cl.ID)
}

// OnACLCheck lets sources publish where machines do, and read nothing.
func (b *Broker) OnACLCheck(_ *mqtt.Client, topic string, write bool) bool {
	machine, point, ok := strings.Cut(strings.TrimPrefix(topic, Topic), "/")
	return write && ok && strings.HasPrefix(topic, Topic) && machine != "" && point != "" && !strings.Contains(point, "/")
}

// mostPayload is how long what is published is at most, in bytes.
const mostPayload = 4 << 10

// OnPublish takes what is published. Who sends too much waits. It goes to nobody else. A source that was ended meanwhile is refused.
func (b *Broker) OnPublish(cl *mqtt.Client, pk packets.Packet) (packets.Packet, error) {
	ctx := context.Background()
	b.mu.Lock()
	key := b.keys[cl.ID]
	b.mu.Unlock()
	src, ok, err := b.taker.Source(ctx, key)
	if err != nil || !ok {
		return pk, packets.ErrNotAuthorized
	}
	if err := b.taker.Limit(src.ID).Wait(ctx); err != nil {
		return pk, packets.ErrQuotaExceeded
	}
	machine, point, _ := strings.Cut(strings.TrimPrefix(pk.TopicName, Topic), "/")
	s := Signal{Machine: machine, Point: point}
	if len(pk.Payload) > mostPayload || json.Unmarshal(pk.Payload, &s.Value) != nil && json.Unmarshal(pk.Payload, &s) != nil {
		b.taker.Log.Warn("a signal is not JSON", "source", src.Name, "topic", pk.TopicName)
		return pk, said(cl, packets.ErrPayloadFormatInvalid)
	}
	s.Machine, s.Point = machine, point
	answer, err := b.taker.Take(ctx, src, []Signal{s})
	if err != nil {
		b.taker.Log.Warn("a signal was not taken", "source", src.Name, "topic", pk.TopicName, "error", err)
		if cl.Properties.ProtocolVersion < 5 {
			return pk, packets.ErrRejectPacket // without a receipt it is sent again
		}
		return pk, packets.ErrImplementationSpecificError
	}
	for _, r := range answer.Refused {
		b.taker.Log.Info("a signal was refused", "source", src.Name, "topic", pk.TopicName, "why", r.Why.Code)
	}
	return pk, packets.CodeSuccessIgnore
}

// said is what a source is told that sends what can't be taken: one of MQTT 3.1.1 can't be told, and would send it again for ever.
func said(cl *mqtt.Client, why packets.Code) packets.Code {
	if cl.Properties.ProtocolVersion < 5 {
		return packets.CodeSuccessIgnore
	}
	return why
}
