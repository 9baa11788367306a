package signals_test

import (
	"log/slog"
	"net"
	"testing"
	"time"

	"github.com/eclipse/paho.golang/paho"
	mqtt3 "github.com/eclipse/paho.mqtt.golang"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/server/signals"
	"iter.example/iter/server/store"
)

// Signals come over MQTT 3.1.1 and 5, from who has a key; nobody reads anything there, or publishes elsewhere.
func TestMQTT(t *testing.T) {
	f := open(t)
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	b, err := signals.Listen(f.taker, l, slog.New(slog.DiscardHandler))
	require.NoError(t, err)
	defer func() { _ = b.Close() }()
	address := l.Addr().String()
	latest := func(point string) func() bool {
		return func() bool {
			all, err := f.taker.Latest(t.Context(), "p1")
			_, is := all[point]
			return err == nil && is
		}
	}

	old := func(key string) (mqtt3.Client, error) {
		c := mqtt3.NewClient(mqtt3.NewClientOptions().AddBroker("tcp://" + address).SetClientID("old" + key).SetProtocolVersion(4).
			SetUsername("plc").SetPassword(key))
		token := c.Connect()
		token.WaitTimeout(10 * time.Second)
		return c, token.Error()
	}
	_, err = old("another key")
	require.Error(t, err)
	c, err := old("the key")
	require.NoError(t, err)
	defer c.Disconnect(0)
	require.True(t, c.Publish("iter/SN-1/bearing", 1, false, "61.5").WaitTimeout(10*time.Second))
	assert.Eventually(t, latest("bearing"), 10*time.Second, time.Millisecond)
	token := c.Subscribe("iter/#", 1, nil)
	require.True(t, token.WaitTimeout(10*time.Second))
	for _, code := range token.(*mqtt3.SubscribeToken).Result() {
		assert.GreaterOrEqual(t, code, byte(0x80), "refused")
	}

	conn, err := net.Dial("tcp", address)
	require.NoError(t, err)
	five := paho.NewClient(paho.ClientConfig{Conn: conn})
	_, err = five.Connect(t.Context(), &paho.Connect{ClientID: "five", CleanStart: true, KeepAlive: 30, Username: "plc", UsernameFlag: true,
		Password: []byte("the key"), PasswordFlag: true})
	require.NoError(t, err)
	_, err = five.Publish(t.Context(), &paho.Publish{Topic: "iter/p1/flow", QoS: 1, Payload: []byte(`{"value": 12.5, "unit": "m³/h"}`)})
	require.NoError(t, err)
	assert.Eventually(t, latest("flow"), 10*time.Second, time.Millisecond)
	for topic, payload := range map[string]string{"other/p1/flow": "1", "iter/p1": "1", "iter/p1/flow": "not JSON"} {
		_, err = five.Publish(t.Context(), &paho.Publish{Topic: topic, QoS: 1, Payload: []byte(payload)})
		assert.Error(t, err, topic)
	}
	f.write(func(tx *store.Tx) error { _, err := tx.EndSignalSource("plc", f.now); return err })
	_, err = five.Publish(t.Context(), &paho.Publish{Topic: "iter/p1/flow", QoS: 1, Payload: []byte("13")})
	require.Error(t, err, "its source was ended while it was connected")
	_ = five.Disconnect(&paho.Disconnect{})
}
