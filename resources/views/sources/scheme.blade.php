@php($fields = \App\Http\Sources\SchemeFields::of($scheme['scheme']))
@php($name = "access[$number]")
<fieldset class="scheme" id="scheme-{{ $number }}">
    <legend class="visually-hidden">Scheme {{ $number + 1 }}</legend>
    <div class="flex items-center gap-2">
        <strong>{{ \App\Http\Sources\SchemeFields::title($scheme['scheme']) }}</strong>
        <input type="hidden" name="{{ $name }}[scheme]" value="{{ $scheme['scheme'] }}">
        <input type="hidden" name="{{ $name }}[was]" value="{{ $number }}">
        @if ($number > 0)<x-sheet.step :to="$save" form="source-form" do="earlier"
            :with="['scheme' => (string) $number]" class="x ml-auto"
            aria-label="Apply {{ \App\Http\Sources\SchemeFields::title($scheme['scheme']) }} earlier">↑</x-sheet.step>@endif
        <x-sheet.step :to="$save" form="source-form" do="reshape" :with="['access['.$number.'][scheme]' => 'none']"
            class="x {{ $number > 0 ? '' : 'ml-auto' }}"
            aria-label="Remove {{ \App\Http\Sources\SchemeFields::title($scheme['scheme']) }}">×</x-sheet.step>
    </div>
    @if ($scheme['scheme'] === 'oauth2-authorization-code')
        <p class="mt-1 text-sm">Register this redirect address at the service: <code>{{ $sheet->redirectAddress }}</code> <button type="button"
            class="btn small" data-copy="{{ $sheet->redirectAddress }}">Copy</button></p>
    @endif
    @if ($scheme['scheme'] === 'oauth2-authorization-code' && array_key_exists($number, $sheet->tokens))
        @php($token = $sheet->tokens[$number])
        <p class="mt-1 text-sm">
            @if ($token)
                <span class="tag g">consent given</span> <small>{{ $token->scope ?? 'no scope named' }} · {{ $token->renewable ? 'renews itself' :
                    ($token->expires_at ? 'ends '.\App\View\Show::at($token->expires_at) : 'without an end') }}{{ ($scheme['shared'] ?? true) ? '' :
                    ' · yours' }}</small>
                <button type="button" class="link" hx-post="{{ route('sources.consent', $source) }}" hx-vals='{"scheme": "{{ $number }}"}'
                    hx-swap="none">Sign in again</button> ·
                <button type="button" class="link" hx-post="{{ route('sources.consent.forget', $source) }}" hx-vals='{"scheme": "{{ $number }}"}'
                    hx-target="#sheet" hx-swap="outerHTML">{{ isset($scheme['revoke_url']) ? 'Revoke and forget' : 'Forget' }}</button>
            @else
                <button type="button" class="btn go small" id="consent-{{ $number }}" hx-post="{{ route('sources.consent', $source) }}"
                    hx-vals='{"scheme": "{{ $number }}"}' hx-swap="none">Sign in at the service</button> <small>{{ ($scheme['shared'] ?? true) ?
                    'Nobody has agreed yet; one consent is for all.' : 'You have not agreed yet. What runs unattended needs one consent for all.' }}</small>
            @endif
        </p>
    @endif
    <div class="fields">
        @foreach ($fields as $field => $of)
            @php($id = "access-$number-$field")
            @php($value = \App\Http\Sources\SchemeFields::shown($field, $of, $scheme))
            @if ($of['kind'] === 'secret')
                <input type="hidden" name="{{ $name }}[{{ $field }}]" value="{{ $value }}">
            @elseif (isset($of['choices']))
                <label><span>{{ $of['label'] }}</span> <select class="f" id="{{ $id }}" name="{{ $name }}[{{ $field }}]">
                    @foreach ($of['choices'] as $choice => $label)<option value="{{ $choice }}"
                    @selected($value === (string) $choice)>{{ $label }}</option>@endforeach</select></label>
            @elseif ($field === 'issuer' && $scheme['scheme'] !== 'jwt-assertion')
                <div class="wide flex items-center gap-2"><label class="flex-1"><span>{{ $of['label'] }}</span> <input class="f" id="{{ $id }}"
                    name="{{ $name }}[{{ $field }}]" value="{{ $value }}" placeholder="{{ $of['hint'] ?? '' }}" spellcheck="false"></label>
                    <button type="button" class="btn small" hx-post="{{ route('sources.discover', $source) }}" hx-include="#source-form"
                        hx-vals='{"scheme": "{{ $number }}"}' hx-target="#sheet" hx-swap="outerHTML" hx-disabled-elt="this">Find the addresses</button></div>
            @else
                <label @class(['wide' => ($of['width'] ?? '') === '!w-full'])><span>{{ $of['label'] }}</span> <input class="f" id="{{ $id }}"
                    name="{{ $name }}[{{ $field }}]" value="{{ $value }}" placeholder="{{ $of['hint'] ?? '' }}" spellcheck="false"></label>
            @endif
        @endforeach
    </div>
    @foreach ($fields as $field => $of)
        @php($asked = $scheme)
        @foreach ($of['at'] ?? [$field] as $step) @php($asked = is_array($asked) ? $asked[$step] ?? null : null) @endforeach
        @foreach (isset($asked['secret']) ? [$asked['secret']] : array_column(array_filter(is_array($asked) ? $asked : [], is_array(...)),
            'secret') as $secretName)
            @php($secret = $sheet->secrets[$secretName] ?? null)
            <p class="secret text-sm">
                <span>{{ isset($asked['secret']) ? $of['label'] : $secretName }}</span>
                @if ($secret)
                    <span class="m">••••••</span> <small>set {{ $secret->setBy ? "by {$secret->setBy->name}, " :
                        '' }}{{ \App\View\Show::day($secret->updated_at) }}</small>
                    @if ($secret->ends_on)@php($days = (int) now()->startOfDay()->diffInDays($secret->ends_on, false))<span
                        @class(['tag', 'i' => $days < 0, 'o' => $days >= 0 && $days <= 14])>{{ $days < 0 ? 'ended '.$secret->ends_on->format('Y-m-d')
                        : ($days <= 14 ? "ends in $days days" : 'ends '.$secret->ends_on->format('Y-m-d')) }}</span>@endif
                @else
                    <span class="tag o">no value in {{ $sheet->environment->name }}</span>
                @endif
                <button type="button" class="link" @if ($loop->parent->first) data-first @endif data-fill="secret_name"
                    data-value="{{ $secretName }}" data-then="secret_value"
                    aria-label="{{ $secret ? 'Replace' : 'Set' }} the secret {{ $secretName }}">{{ $secret ? 'Replace' : 'Set it' }}</button>
            </p>
            @php($away = $secret === null ? [] : $sheet->awayFrom($secret))
            @if ($away !== [])
                <div class="note mt-1 text-sm">
                    It was given for {{ $sheet->shown($secret->origins ?? []) }} and is not sent to {{ $sheet->shown($away) }}.
                    @if ($secret->set_by === auth()->id())
                        <button type="button" class="link" hx-post="{{ route('sources.secrets.confirm', $source) }}" hx-target="#sheet"
                            hx-swap="outerHTML">Send my secrets there too</button>
                    @else
                        {{ $secret->setBy?->name ?? 'Whoever gave it on the command line' }} can confirm the new address; or give it again.
                    @endif
                </div>
            @endif
            @if ($secret?->pending)
                <div class="note mt-1 text-sm">The service did not take the new value of
                    <code>{{ $secretName }}</code>, so the old one is still in use. <button type="button" class="link"
                    hx-post="{{ route('sources.secret.accept', $source) }}" hx-vals='{"secret_name": "{{ $secretName }}"}' hx-target="#sheet"
                    hx-swap="outerHTML">Use the new one anyway</button> · <button type="button" class="link"
                    hx-post="{{ route('sources.secret.discard', $source) }}" hx-vals='{"secret_name": "{{ $secretName }}"}'
                    hx-target="#sheet" hx-swap="outerHTML">Keep the old one</button></div>
            @endif
        @endforeach
    @endforeach
    @php($lacking = $sheet->notGranted($number))
    @if ($lacking !== [])<p class="mt-1 text-sm"><span class="tag o">not granted: {{ implode(' ', $lacking) }}</span>
        <small>asked for, but the service gave a token without</small></p>@endif
    @if (array_key_exists($number, $sheet->tokens))
        @php($token = $sheet->tokens[$number])
        @if ($token && $scheme['scheme'] !== 'oauth2-authorization-code')
            <p class="mt-1 text-sm"><small>token {{ $token->scope ? "for $token->scope, " : '' }}{{ $token->expires_at &&
                $token->expires_at->getTimestamp() > 1 ? ($token->expires_at->isPast() ? 'ended, a new one is asked for when needed' :
                'good until '.\App\View\Show::clock($token->expires_at).' '.\App\View\Show::zone().'') :
                'without a known end' }}, asked for {{ $token->asked === 1 ? 'once' : \App\View\Show::count($token->asked, 'time') }}</small></p>
        @endif
    @endif
    @include('sources.scheme-adds', ['oob' => false])
</fieldset>
